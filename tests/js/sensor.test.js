import assert from "node:assert/strict";
import { test } from "node:test";
import { meanBearing, planeTilt, sighted } from "../../web/static/js/sensor.js";

const rad = (degrees) => (degrees * Math.PI) / 180;
const near = (found, wanted) => assert.ok(Math.abs(found - wanted) < 1e-9, `${found} is not ${wanted}`);

// The phone's axes in the world for its three angles, by the standard's own matrices, applied one after the other.
function turned({ alpha, beta, gamma }, [x, y, z]) {
  const [a, b, g] = [rad(alpha), rad(beta), rad(gamma)];
  [x, z] = [x * Math.cos(g) + z * Math.sin(g), -x * Math.sin(g) + z * Math.cos(g)];
  [y, z] = [y * Math.cos(b) - z * Math.sin(b), y * Math.sin(b) + z * Math.cos(b)];
  return [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a), z];
}
const WAYS = [
  { alpha: 20, beta: 33, gamma: 0 },
  { alpha: 111, beta: -12, gamma: 28 },
  { alpha: 305, beta: 48, gamma: -17 },
];

test("the tilt is that of the phone's back, however it is turned on the glass", () => {
  for (const way of WAYS) near(planeTilt(way), (Math.acos(turned(way, [0, 0, 1])[2]) * 180) / Math.PI);
  near(planeTilt({ beta: 0, gamma: 36 }), 36);
});

test("sighting follows the long edge", () => {
  for (const way of WAYS) {
    const [east, north, up] = turned(way, [0, 1, 0]);
    near(sighted(way).elevation, (Math.asin(up) * 180) / Math.PI);
    near(sighted(way).bearing, ((Math.atan2(east, north) * 180) / Math.PI + 360) % 360);
  }
  near(sighted({ alpha: 10, beta: 5, heading: 200 }).bearing, 200);
});

test("bearings either side of north have their middle there", () => {
  near(meanBearing([350, 20]), 5);
  near(meanBearing([100, 110, 120]), 110);
});
