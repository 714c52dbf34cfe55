/** Pictures to take away are drawn on paper: in the light palette, whatever the screen shows. */

const NAMES = ["paper", "sheet", "sunk", "rule", "ink", "soft", "leaf", "leaf-wash", "clay", "ochre", "reading", "output", "ghost", "text-token", "word", "clay-wash", "ochre-wash"];

/** The palette's colours on paper, by their names. */
export function palette(): Record<string, string> {
  const root = document.documentElement;
  const dark = root.classList.contains("dark");
  root.classList.remove("dark"); // put back before anything is drawn
  const style = getComputedStyle(root);
  const found = Object.fromEntries(NAMES.map((name) => [name, style.getPropertyValue(`--${name}`).trim()]));
  if (dark) root.classList.add("dark");
  return found;
}

export function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[sign] ?? sign);
}

interface Words {
  x: number;
  y: number;
  size?: number;
  fill: string;
  bold?: boolean;
  anchor?: "start" | "middle" | "end";
}

export function words(text: string, { x, y, size = 12, fill, bold = false, anchor = "start" }: Words): string {
  return `<text x="${x.toFixed(1)}" y="${y.toFixed(1)}" font-size="${size}" fill="${fill}" text-anchor="${anchor}"${bold ? ' font-weight="700"' : ""}>${escaped(text)}</text>`;
}

/** A whole picture: its title, and under it what it is of. */
export function framed(title: string, below: string, width: number, height: number, body: string, colours: Record<string, string>): string {
  const head = words(title, { x: 16, y: 26, size: 17, bold: true, fill: colours["ink"] ?? "#000" }) + words(below, { x: 16, y: 44, size: 12, fill: colours["soft"] ?? "#444" });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="'Atkinson Hyperlegible', 'DejaVu Sans', sans-serif" role="img"><title>${escaped(title)}</title><desc>${escaped(below)}</desc><rect width="${width}" height="${height}" fill="${colours["paper"]}"/>${head}${body}</svg>`;
}
export const HEAD = 58;

function saved(blob: Blob, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** Hands a picture to the browser to be saved, as SVG or, at twice its size, as PNG. */
export async function save(svg: string, name: string, form: "svg" | "png"): Promise<void> {
  const file = name.replace(/[^\p{L}\p{N}]+/gu, "-").replace(/^-|-$/g, "").toLowerCase() || "picture";
  const blob = new Blob([svg], { type: "image/svg+xml" });
  if (form === "svg") return saved(blob, `${file}.svg`);
  const image = new Image();
  const address = URL.createObjectURL(blob);
  image.src = address;
  await image.decode();
  const canvas = document.createElement("canvas");
  canvas.width = image.width * 2;
  canvas.height = image.height * 2;
  canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
  URL.revokeObjectURL(address);
  canvas.toBlob((png) => png && saved(png, `${file}.png`), "image/png");
}
