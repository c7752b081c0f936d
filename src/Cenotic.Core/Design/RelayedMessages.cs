namespace Cenotic.Core.Design;

/// <summary>Messages of another node that a relay or a gateway hears and passes on.</summary>
/// <param name="From">Key of the node whose messages they are.</param>
/// <param name="Label">Its name.</param>
/// <param name="Last">Key of the node that it hears them from: the one whose they are, or the relay before.</param>
/// <param name="PerDay">How many come on a day.</param>
/// <param name="Bytes">Length of each.</param>
/// <param name="ByClock">True for those that come by the timetable, false for those that come when something changes.</param>
/// <param name="Link">By what they are sent.</param>
/// <param name="Channel">Frequency and rate that they are heard on.</param>
public sealed record RelayedMessages(string From, string Label, string Last, double PerDay, int Bytes, bool ByClock, LinkKind Link, string Channel);
