using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Place;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Planning;

/// <summary>All that the plan of a node depends on, but for the work that it may take.</summary>
internal sealed record NodeInputs(
    NodeDesign Node,
    string Site,
    HardwareCatalogue Catalogue,
    IReadOnlyList<Board> OwnBoards,
    IReadOnlyList<Part> OwnParts,
    IReadOnlyList<Cell> OwnCells,
    Surroundings Around,
    IReadOnlyList<MeasuredCurrent> Currents,
    LinkHistory? History,
    LinkAssumption? Link,
    Relayed Relayed
)
{
    internal bool IsSame(NodeInputs other) =>
        ReferenceEquals(Node, other.Node)
        && Site == other.Site
        && ReferenceEquals(Catalogue, other.Catalogue)
        && ReferenceEquals(OwnBoards, other.OwnBoards)
        && ReferenceEquals(OwnParts, other.OwnParts)
        && ReferenceEquals(OwnCells, other.OwnCells)
        && Around == other.Around
        && Currents.SequenceEqual(other.Currents)
        && History == other.History
        && Link == other.Link
        && Relayed.IsSameFor(Node, other.Relayed);
}
