// Quantities told as the server tells them (sundial/quantities/kinds.py): the numbers follow a drag at once. tests/js holds both against the same
// strings.
const MPH = 0.44704;
const POUND = 0.45359237;
const POUND_FORCE = 4.4482216152605;
const KIP = 10000 * POUND_FORCE;

export function speedText(speed, us) {
  return us ? `${Math.round(speed / MPH)} mph` : `${Math.round(speed)} m/s`;
}

export function forceText(newtons, us) {
  if (us) return newtons < KIP ? `${Math.round(newtons / POUND_FORCE)} lbf` : `${(newtons / POUND_FORCE / 1000).toFixed(1)} kip`;
  return newtons < 1000 ? `${Math.round(newtons)} N` : `${(newtons / 1000).toFixed(1)} kN`;
}

export function massText(kilograms, us) {
  const [value, unit] = us ? [kilograms / POUND, "lb"] : [kilograms, "kg"];
  return value < 10 ? `${value.toFixed(1)} ${unit}` : `${Math.round(value)} ${unit}`;
}
