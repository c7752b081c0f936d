/** Supplies as the interface offers them. */
import type { PowerDesign } from "@/api/client";

/** A supply with nothing special about it. */
export const plainPower: PowerDesign = {
  kind: "usb",
  cell: null,
  parallel: 1,
  stepUp: false,
  module: null,
  twelveVoltStepUp: false,
  fuseAmps: null,
  reverseGuard: false,
  surgeGuard: false,
  leadMetres: 0,
  leadAwg: null,
  alsoUsb: false,
  backfeedGuard: false,
  charger: null,
  chargerMeasuresCell: false,
  cellCutOff: true,
};

export const supplyNames: Record<PowerDesign["kind"], string> = {
  usb: "USB",
  fiveVolt: "5 V supply of 1 A",
  cells: "cells",
  twelveVolt: "12 V source",
  twentyFourVolt: "24 V source",
  overCable: "Power over the network cable",
};
