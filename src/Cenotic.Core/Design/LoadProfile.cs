using Cenotic.Core.Common;

namespace Cenotic.Core.Design;

/// <summary>What a part draws in its states as the rest of the site sees it: how Bench and Rhythm meet.</summary>
/// <param name="Part">Instance key; "board" for the board.</param>
/// <param name="Switched">True when its supply is cut between readings, so that it draws nothing asleep.</param>
public sealed record LoadProfile(
    string Part,
    string Label,
    string Rail,
    double RailVolts,
    Fact? SleepMicroamps,
    Fact? ActiveMilliamps,
    Fact? PeakMilliamps,
    Fact? WarmUpMs,
    Fact? ConversionMs,
    bool StaysOn,
    bool Switched
);
