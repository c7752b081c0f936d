namespace Cenotic.Server.Accounts;

/// <summary>Makes guessing of passwords slow: five tries are free, then 30 s, doubled up to an hour.</summary>
public sealed class SignInThrottle(TimeProvider system) : GuessThrottle(system, 5, TimeSpan.FromSeconds(30), TimeSpan.FromHours(1))
{
    /// <summary>What is said to who has to wait.</summary>
    public static string Says(TimeSpan wait) =>
        "Too many wrong passwords for this name from here; wait "
        + $"{(wait.TotalSeconds < 90 ? $"{Math.Ceiling(wait.TotalSeconds):0} s" : $"{Math.Ceiling(wait.TotalMinutes):0} min")}.";
}
