using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Bench;

/// <summary>A node on its board, with all that the plan of its bench rests on.</summary>
/// <param name="Around">What its spot does to electronics.</param>
/// <param name="Trial">True where only the stops are asked for: remedies that would each need a plan of their own are left out.</param>
/// <param name="Budget">How much work it may take.</param>
internal sealed record BenchCase(
    NodeDesign Node,
    Board Board,
    NodeSupply Supply,
    HardwareCatalogue Catalogue,
    Surroundings Around,
    bool Trial,
    WorkBudget Budget
)
{
    /// <summary>What is found while it is planned.</summary>
    internal List<Finding> Findings { get; } = [];
}
