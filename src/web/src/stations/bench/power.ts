/** Supplies as the interface offers them. */
import type { HarvestDesign, NodeDesign, PowerDesign } from "@/api/client";

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
  series: 1,
  fittedOn: null,
  harvest: null,
  ratedAmps: null,
  vehicle: false,
  rails: null,
};

export const supplyNames: Record<PowerDesign["kind"], string> = {
  usb: "USB",
  fiveVolt: "5 V supply",
  cells: "cells",
  twelveVolt: "12 V source",
  twentyFourVolt: "24 V source",
  overCable: "Power over the network cable",
  capacitor: "Storage capacitor, filled by light",
};

/** A light cell in the sun of a temperate latitude: something to start from. */
export const plainHarvest: HarvestDesign = {
  areaSquareCm: 60,
  efficiencyPercent: 15,
  light: "sun",
  latitudeDegrees: 50,
  clearness: null,
  lux: null,
  hoursPerDay: null,
  wattHoursPerSquareMetre: null,
  capacitorMicrofarads: null,
  startVolts: 3.6,
  stopVolts: 2.25,
};

/** A capacitor that carries a short radio message. */
export const plainCapacitor = 470000;

export const linkNames: Record<NodeDesign["link"], string> = {
  wifi: "Wi-Fi of the board",
  longRange: "a radio module of its own",
  cable: "its cable",
  card: "nothing: it writes to a storage card",
};
