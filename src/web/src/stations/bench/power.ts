/** Supplies as the interface offers them. */
import type { NodeDesign, PowerDesign } from "@/api/client";

export const supplyNames: Record<PowerDesign["kind"], string> = {
  usb: "USB",
  fiveVolt: "5 V supply",
  cells: "cells",
  twelveVolt: "12 V source",
  twentyFourVolt: "24 V source",
  overCable: "Power over the network cable",
  capacitor: "Storage capacitor, filled by light",
};

export const linkNames: Record<NodeDesign["link"], string> = {
  wifi: "Wi-Fi of the board",
  longRange: "a radio module of its own",
  cable: "its cable",
  card: "nothing: it writes to a storage card",
};
