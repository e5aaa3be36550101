// Lengths as people write them, read and shown as the server does (sundial/quantities.py): the drawing follows at once, the
// server has the last word.
export const INCH = 0.0254;
export const FOOT = 0.3048;
const METRES = {
  mm: 0.001,
  cm: 0.01,
  m: 1,
  km: 1000,
  in: INCH,
  inch: INCH,
  inches: INCH,
  '"': INCH,
  "″": INCH,
  ft: FOOT,
  foot: FOOT,
  feet: FOOT,
  "'": FOOT,
  "′": FOOT,
};
const FEET = ["ft", "foot", "feet", "'", "′"];
const PART = /^\s*(\d+\s+\d+\/\d+|\d+\/\d+|\d+(?:[.,]\d+)?|[.,]\d+)\s*(mm|cm|km|m|inches|inch|in|feet|foot|ft|"|″|'|′)?\s*/i;

function amount(text) {
  const plain = text.trim().replace(",", ".");
  const space = plain.lastIndexOf(" ");
  const [whole, fraction] = space < 0 ? ["", plain] : [plain.slice(0, space), plain.slice(space + 1)];
  if (!fraction.includes("/")) return Number(plain);
  const [above, below] = fraction.split("/").map(Number);
  return below === 0 ? Number.NaN : Number(whole || 0) + above / below;
}

/** Metres of "2 ft 3 1/2 in", "69 cm" or "1.72"; NaN where it is no length. A bare number is in metres or feet. */
export function parseLength(typed, us = false) {
  let rest = String(typed ?? "")
    .trim()
    .replace(/(\d)-(?=\d+\/\d)/g, "$1 "); // 7-1/2 is 7 1/2
  const sign = /^[-−]/.test(rest) ? -1 : 1;
  rest = rest.replace(/^[-−]+/, "").trim();
  let [total, count, last] = [0, 0, ""];
  while (rest) {
    const match = PART.exec(rest);
    if (!match?.[0].trim()) return Number.NaN;
    let unit = (match[2] || "").toLowerCase();
    if (!unit && rest.slice(match[0].length)) return Number.NaN;
    if (!unit) unit = FEET.includes(last) ? "in" : us ? "ft" : "m";
    total += amount(match[1]) * METRES[unit];
    last = unit;
    rest = rest.slice(match[0].length);
    count += 1;
    if (count > 3) return Number.NaN;
  }
  return count ? sign * total : Number.NaN;
}

/** "3.5 m", or feet and inches to the nearest half inch: "11 ft 6 in". */
export function formatLength(metres, us = false) {
  if (!us) return `${Math.round(metres * 100) / 100} m`;
  const inches = Math.round((metres / INCH) * 2) / 2;
  const sign = inches < 0 ? "−" : "";
  const feet = Math.floor(Math.abs(inches) / 12);
  const rest = Math.abs(inches) - feet * 12;
  return `${sign}${feet ? `${feet} ft ` : ""}${rest || !feet ? `${rest} in` : ""}`.trim();
}
