namespace Cenotic.Core.Design;

/// <summary>Edits of a node that keep everything but one decision, for remedies.</summary>
public static class SetNodes
{
    public static SetNode As(NodeDesign node) =>
        new(
            node.Key,
            node.Label,
            node.Spot,
            node.Board,
            node.Power,
            node.Link,
            node.Sleeps,
            node.MeasuresSupply,
            node.AddsModules,
            node.Housing,
            node.Sending,
            node.Via,
            node.CorrectsItself
        );

    public static SetNode WithPower(NodeDesign node, PowerDesign power) => As(node) with { Power = power };

    public static SetNode WithSending(NodeDesign node, SendDesign sending) => As(node) with { Sending = sending };

    public static SetNode WithBoard(NodeDesign node, string board) => As(node) with { Board = board };
}
