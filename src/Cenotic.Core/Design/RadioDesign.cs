namespace Cenotic.Core.Design;

/// <summary>How the radio of a node is set. What is null is as usual for its part.</summary>
/// <param name="FrequencyMegahertz">Centre of its channel, MHz.</param>
/// <param name="SpreadingFactor">Of LoRa, 6 to 12; a radio with a fixed rate has none.</param>
/// <param name="BandwidthKilohertz">Of LoRa, kHz.</param>
/// <param name="CodingRate">Of LoRa, 1 for 4/5 to 4 for 4/8.</param>
/// <param name="BitsPerSecond">Of a radio with a fixed rate, bits a second on the air.</param>
/// <param name="PowerDbm">Transmit power at the antenna's foot, dBm.</param>
/// <param name="AntennaGainDbi">Gain of its antenna, dBi.</param>
/// <param name="AntennaFlat">True where its antenna lies flat; most stand upright.</param>
/// <param name="HopChannels">Channels side by side that it changes between from one transmission to the next; null for one alone.</param>
public sealed record RadioDesign(
    double? FrequencyMegahertz = null,
    int? SpreadingFactor = null,
    double? BandwidthKilohertz = null,
    int? CodingRate = null,
    double? BitsPerSecond = null,
    double? PowerDbm = null,
    double? AntennaGainDbi = null,
    bool? AntennaFlat = null,
    int? HopChannels = null
);
