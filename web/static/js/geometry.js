// Plan geometry, pure: x east, y north, metres; azimuths clockwise from north, degrees.
const rad = (degrees) => (degrees * Math.PI) / 180;

/** A value to the nearest step, free of binary dust. */
export const roundTo = (value, step) => Math.round(Math.round(value / step) * step * 1000) / 1000;

/** Corners of the rectangle between two opposite ones. */
export const rectangle = ([x1, y1], [x2, y2]) => [
  [Math.min(x1, x2), Math.min(y1, y2)],
  [Math.max(x1, x2), Math.min(y1, y2)],
  [Math.max(x1, x2), Math.max(y1, y2)],
  [Math.min(x1, x2), Math.max(y1, y2)],
];

/** Middle of the box around points. */
export const boundsCentre = (points) => [0, 1].map((axis) => (Math.min(...points.map((p) => p[axis])) + Math.max(...points.map((p) => p[axis]))) / 2);

/** A point turned clockwise by degrees about a centre. */
export function spun([x, y], [cx, cy], by) {
  const [c, s] = [Math.cos(rad(by)), Math.sin(rad(by))];
  return [cx + (x - cx) * c + (y - cy) * s, cy - (x - cx) * s + (y - cy) * c];
}

/** A point moved away from a centre by a factor. */
export const grown = ([x, y], [cx, cy], by) => [cx + (x - cx) * by, cy + (y - cy) * by];

/**
 * The lines of the lot about an array's `rings`, by distances taped from its edges: `[side, from, to]` of each that is told.
 * @returns {[string, number[], number[]][]}
 */
export function boundaryLines(rings, azimuth, told) {
  const sides = ["front", "left", "back", "right"];
  const away = sides.map((_, number) => [Math.sin(rad(azimuth + 90 * number)), Math.cos(rad(azimuth + 90 * number))]);
  const points = rings.flat();
  const reach = away.map(([x, y], number) => Math.max(...points.map(([px, py]) => px * x + py * y)) + (told[sides[number]] || 0));
  const corner = (one, other) => [0, 1].map((axis) => away[one][axis] * reach[one] + away[other][axis] * reach[other]);
  return sides.flatMap((side, number) =>
    told[side] === undefined || told[side] === null ? [] : [[side, corner(number, (number + 3) % 4), corner(number, (number + 1) % 4)]],
  );
}

/** The rings of an array's groups, lower edge first. `at` is the middle of the lower edge (or the pole, `pivot`). */
export function ringsOfArray({ at, azimuth, wide, deep, pivot, groups = 1, how = "behind", distance = 0 }) {
  const turn = rad(azimuth);
  const face = [Math.sin(turn), Math.cos(turn)];
  const along = [-Math.cos(turn), Math.sin(turn)];
  const rings = [];
  for (let group = 0; group < groups; group++) {
    let [x, y] = at;
    if (groups > 1 && how === "behind") [x, y] = [x - face[0] * distance * group, y - face[1] * distance * group];
    else if (groups > 1) {
      const shift = (group - (groups - 1) / 2) * (wide + distance);
      [x, y] = [x + along[0] * shift, y + along[1] * shift];
    }
    const low = pivot ? -deep / 2 : 0;
    const corners = [
      [-wide / 2, low],
      [wide / 2, low],
      [wide / 2, low + deep],
      [-wide / 2, low + deep],
    ];
    rings.push(corners.map(([s, v]) => [x + along[0] * s - face[0] * v, y + along[1] * s - face[1] * v]));
  }
  return rings;
}
