import assert from "node:assert/strict";
import { test } from "node:test";
import { boundaryLines, boundsCentre, grown, rectangle, ringsOfArray, roundTo, spun } from "../../web/static/js/geometry.js";

const near = (found, wanted) => {
  found.flat(2).forEach((value, i) => {
    assert.ok(Math.abs(value - wanted.flat(2)[i]) < 1e-9, `${JSON.stringify(found)} is not ${JSON.stringify(wanted)}`);
  });
};

test("steps are free of binary dust", () => {
  assert.equal(roundTo(0.30000000000000004, 0.1), 0.3);
  assert.equal(roundTo(-1.26, 0.5), -1.5);
  assert.equal(roundTo(7.024, 0.05), 7);
});

test("a rectangle has its corners in order around it, from whichever corner it was drawn", () => {
  const wanted = [
    [1, 2],
    [4, 2],
    [4, 7],
    [1, 7],
  ];
  near(rectangle([4, 2], [1, 7]), wanted);
  near(rectangle([1, 7], [4, 2]), wanted);
});

test("the middle of the box around points", () => {
  near(
    boundsCentre([
      [0, 0],
      [6, 1],
      [1, -5],
    ]),
    [3, -2],
  );
});

test("turning is clockwise, as azimuths run", () => {
  near(spun([3, 5], [3, 2], 90), [6, 2]); // north of the centre goes east
  near(spun([4, 2], [3, 2], 30), [3 + Math.cos(Math.PI / 6), 2 - 0.5]);
});

test("growing keeps the centre", () => {
  near(grown([5, 1], [3, 2], 1.5), [6, 0.5]);
  near(grown([3, 2], [3, 2], 7), [3, 2]);
});

test("an array that faces south-west: lower edge toward its facing, groups behind away from it", () => {
  const [first, second] = ringsOfArray({ at: [10, 20], azimuth: 225, wide: 4, deep: 1.5, pivot: 0, groups: 2, distance: 3 });
  const s = Math.SQRT1_2;
  near([first[0]], [[10 - 2 * s, 20 + 2 * s]]); // seen from the front, the left end: north-west
  near([first[1]], [[10 + 2 * s, 20 - 2 * s]]);
  near([first[2]], [[10 + 2 * s + 1.5 * s, 20 - 2 * s + 1.5 * s]]); // the upper edge lies away from the facing
  near([second[0]], [[first[0][0] + 3 * s, first[0][1] + 3 * s]]);
});

test("groups side by side stand about the middle, with the gap between them", () => {
  const rings = ringsOfArray({ at: [0, 0], azimuth: 180, wide: 2, deep: 1, pivot: 0, groups: 3, how: "beside", distance: 0.5 });
  near(
    rings.map((ring) => ring[0]),
    [
      [-2.5 - 1, 0],
      [-1, 0],
      [2.5 - 1, 0],
    ],
  );
});

test("a pole stands under the middle", () => {
  const [ring] = ringsOfArray({ at: [1, 1], azimuth: 180, wide: 2, deep: 3, pivot: 1 });
  near([boundsCentre(ring)], [[1, 1]]);
});

test("a lot about an array that faces south-west, as one looks at the glass", () => {
  const s = Math.SQRT1_2;
  const ring = [
    [0, 0],
    [4, 0],
    [4, 2],
    [0, 2],
  ];
  const lines = Object.fromEntries(boundaryLines([ring], 180, { front: 5, left: 3, back: null }).map(([side, from, to]) => [side, [from, to]]));
  near(lines.front, [
    [4, -5],
    [-3, -5],
  ]); // looking north at the glass, left is west
  near(lines.left, [
    [-3, -5],
    [-3, 2],
  ]);
  assert.equal(lines.back, undefined);
  const [[, from, to]] = boundaryLines(
    [
      [
        [0, 0],
        [1, 1],
      ],
    ],
    225,
    { front: 2 },
  );
  near(
    [from, to],
    [
      [-2 * s, -2 * s],
      [-2 * s, -2 * s],
    ],
  );
});
