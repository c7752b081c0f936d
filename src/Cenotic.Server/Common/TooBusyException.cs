namespace Cenotic.Server.Common;

/// <summary>So much waits to be worked out that more would only wait too.</summary>
public sealed class TooBusyException() : Exception("So much is being worked out that this would only wait; try again in a moment.");
