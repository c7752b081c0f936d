using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Formats;

/// <summary>Sites as files: our own JSON, described in docs/formats.md.</summary>
public static class SiteFiles
{
    /// <summary>Writes a site and what was measured on it; pictures under the plan stay where they are kept.</summary>
    public static string Write(SiteDesign design, Evidence evidence) =>
        JsonSerializer.Serialize(
            new SiteFile(SiteFile.FormatName, SiteDesign.FormatVersion, design with { Place = design.Place with { Scans = [] } }, evidence),
            CenoticJson.Indented
        );

    /// <summary>Reads a site file. Refuses what is not one, with the place in the file where that shows.</summary>
    public static Outcome<SiteFile> Read(string json)
    {
        SiteFile? file;
        try
        {
            file = JsonSerializer.Deserialize<SiteFile>(json, CenoticJson.Options);
        }
        catch (Exception fault) when (fault is JsonException or NotSupportedException)
        {
            return Outcome<SiteFile>.Refused($"Not a site file: {fault.Message}");
        }
        if (file is not { Format: SiteFile.FormatName })
        {
            return Outcome<SiteFile>.Refused($"Not a site file: \"format\" must be \"{SiteFile.FormatName}\".");
        }
        if (file.FormatVersion != SiteDesign.FormatVersion)
        {
            return Outcome<SiteFile>.Refused($"The file has format version {file.FormatVersion}; this program reads version {SiteDesign.FormatVersion}.");
        }
        var edits = Edits(file.Design);
        var read = EditBatch.Apply(SiteDesign.Empty("new"), edits);
        return read.Ok ? file with { Design = read.Value.After } : Outcome<SiteFile>.Refused(read.Reasons);
    }

    /// <summary>The edits that build a design from an empty site.</summary>
    public static IReadOnlyList<DesignEdit> Edits(SiteDesign design) =>
        [
            new SetSite(design.Settings),
            .. design.OwnBoards.Select(b => new PutOwnBoard(b)),
            .. design.OwnParts.Select(p => new PutOwnPart(p)),
            .. design.OwnCells.Select(c => new PutOwnCell(c)),
            .. design.Stock.Select(i => new PutStock(i)),
            .. design.Place.Anchor is { } anchor ? [new SetAnchor(anchor)] : Array.Empty<DesignEdit>(),
            .. design.Place.Floors.Select(f => new PutFloor(f)),
            .. design.Place.Rooms.Select(r => new PutRoom(r)),
            .. design.Place.Walls.Select(w => new PutWall(w)),
            .. design.Place.Spots.Select(s => new PutSpot(s)),
            .. design.Place.AccessPoints.Select(a => new PutAccessPoint(a)),
            .. design.Place.HeatSources.Select(h => new PutHeatSource(h)),
            .. design.Nodes.Select(n => new PutNode(n)),
            .. design.Derived.Select(d => new PutDerived(d)),
            .. design.Rules.Select(r => new PutRule(r)),
            .. design.Lines.Select(l => new PutLine(l)),
            .. design.People.Select(p => new PutPerson(p)),
            .. design.Zones.Select(z => new PutZone(z)),
            .. design.Views.Select(v => new PutView(v)),
        ];
}
