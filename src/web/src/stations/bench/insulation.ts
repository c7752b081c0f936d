/** The insulation colours of the wiring table as paint, readable on both grounds; the name always stands beside it. */
const paint: Record<string, string> = {
  black: "#3a3f44",
  red: "#c4342d",
  orange: "#dd7a1f",
  yellow: "#d3b21e",
  green: "#3f8f46",
  blue: "#2f6fc0",
  violet: "#8457b5",
  grey: "#8d9499",
  white: "#d9dde0",
  brown: "#80552f",
  pink: "#d98aa8",
  turquoise: "#35aca6",
};

export const insulation = (name: string) => paint[name] ?? "#8d9499";
