/** A node with one decision changed, as the edit that the door takes. */
import type { DesignEdit, NodeDesign } from "@/api/client";

type Settings = Pick<
  NodeDesign,
  | "label"
  | "spot"
  | "board"
  | "power"
  | "link"
  | "sleeps"
  | "measuresSupply"
  | "addsModules"
  | "housing"
  | "sending"
  | "via"
  | "correctsItself"
  | "radio"
>;

export function setNode(node: NodeDesign, change: Partial<Settings>): DesignEdit {
  const { label, spot, board, power, link, sleeps, measuresSupply, addsModules, housing, sending, via, correctsItself, radio } = {
    ...node,
    ...change,
  };
  const settings = {
    label,
    spot,
    board,
    power,
    link,
    sleeps,
    measuresSupply,
    addsModules,
    housing,
    sending,
    via,
    correctsItself,
    radio,
  };
  return { kind: "setNode", node: node.key, ...settings };
}
