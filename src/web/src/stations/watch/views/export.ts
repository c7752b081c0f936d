/** A tile as a file: its table as CSV, its drawing as SVG or PNG. */

/** RFC 4180, with fields that a spreadsheet could take for a formula made plain text. */
export function csvText(table: { head: string[]; rows: unknown[][] }): string {
  const field = (v: unknown) => {
    const text = typeof v === "string" && /^[=+\-@\t\r]/.test(v) ? `'${v}` : String(v ?? "");
    return /[",\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
  };
  return [table.head, ...table.rows].map((r) => r.map(field).join(",")).join("\r\n") + "\r\n";
}

/** The drawing on its own: colours of the palette put in place of their names. */
export function svgText(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const css = getComputedStyle(document.documentElement);
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  const { width, height } = svg.getBoundingClientRect();
  copy.setAttribute("width", String(Math.round(width)));
  copy.setAttribute("height", String(Math.round(height)));
  copy.setAttribute("font-family", "sans-serif");
  copy.removeAttribute("class");
  return new XMLSerializer()
    .serializeToString(copy)
    .replace(/var\((--[a-z0-9-]+)\)/g, (_, name: string) => css.getPropertyValue(name).trim());
}

const sheet = () => getComputedStyle(document.documentElement).getPropertyValue("--sheet").trim();

function picture(width: number, height: number, draw: (c: CanvasRenderingContext2D) => void): Promise<Blob> {
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [width, height];
  const c = canvas.getContext("2d")!;
  c.fillStyle = sheet();
  c.fillRect(0, 0, width, height);
  draw(c);
  return new Promise((done, failed) => canvas.toBlob((b) => (b ? done(b) : failed(new Error("no picture"))), "image/png"));
}

export function canvasPicture(from: HTMLCanvasElement, title: string): Promise<Blob> {
  const head = 30 * devicePixelRatio;
  return picture(from.width, from.height + head, (c) => {
    c.drawImage(from, 0, head);
    c.fillStyle = getComputedStyle(document.documentElement).getPropertyValue("--ink").trim();
    c.font = `${16 * devicePixelRatio}px sans-serif`;
    c.fillText(title, 8, head * 0.7);
  });
}

export async function svgPicture(svg: SVGSVGElement): Promise<Blob> {
  const { width, height } = svg.getBoundingClientRect();
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svgText(svg))}`;
  await image.decode();
  const by = 2;
  return picture(width * by, height * by, (c) => c.drawImage(image, 0, 0, width * by, height * by));
}
