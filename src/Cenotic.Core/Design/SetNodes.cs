namespace Cenotic.Core.Design;

/// <summary>Edits of a node that keep everything but one decision, for remedies.</summary>
public static class SetNodes
{
    /// <summary>The edit that leaves a node as it is, to be changed in what is wanted.</summary>
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
            node.CorrectsItself,
            node.Radio,
            node.Relays
        );

    /// <summary>The edit that gives a node another supply.</summary>
    public static SetNode WithPower(NodeDesign node, PowerDesign power) => As(node) with { Power = power };

    /// <summary>The edit that lets a node send otherwise.</summary>
    public static SetNode WithSending(NodeDesign node, SendDesign sending) => As(node) with { Sending = sending };

    /// <summary>The edit that puts a node on another board.</summary>
    public static SetNode WithBoard(NodeDesign node, string board) => As(node) with { Board = board };
}
