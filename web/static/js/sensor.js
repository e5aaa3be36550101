// The phone as the instrument: how it lies, from the browser's own orientation events (W3C DeviceOrientation: turned by alpha
// about the vertical, then beta about its short side, then gamma about its long side).
const rad = (degrees) => (degrees * Math.PI) / 180;
const deg = (radians) => (radians * 180) / Math.PI;
const WINDOW = 1200; // ms that a hand must be still
const STILL = 0.4; // degrees that count as still

// Tilt of the plane that the phone lies on, screen up, degrees from level: the angle of its normal to the vertical.
export const planeTilt = ({ beta, gamma }) => deg(Math.acos(Math.min(1, Math.max(-1, Math.cos(rad(beta)) * Math.cos(rad(gamma))))));

// Where its long edge points: bearing clockwise from the phone's north, elevation over the level.
export const sighted = ({ alpha, beta, heading }) => ({
  bearing: (heading ?? 360 - alpha) % 360,
  elevation: Math.abs(beta) <= 90 ? beta : 180 - Math.abs(beta),
});

// The middle of angles that may lie round north.
export function meanBearing(bearings) {
  const x = bearings.reduce((sum, one) => sum + Math.cos(rad(one)), 0);
  const y = bearings.reduce((sum, one) => sum + Math.sin(rad(one)), 0);
  return (deg(Math.atan2(y, x)) + 360) % 360;
}

const apart = (one, other) => Math.abs(((one - other + 540) % 360) - 180);
const events = ["deviceorientationabsolute", "deviceorientation"];
export const canSense = () => isSecureContext && "DeviceOrientationEvent" in window;

// Watches the phone: ``tell({ value, steady })`` several times a second, the value of ``read`` over the last moments.
export async function watch(read, tell) {
  const sensor = /** @type {any} */ (DeviceOrientationEvent); // Safari asks its person first
  if (typeof sensor.requestPermission === "function" && (await sensor.requestPermission()) !== "granted") return false;
  let samples = [];
  let absolute = false;
  for (const name of events) {
    addEventListener(name, (event) => {
      if (event.beta === null) return;
      if (name === events[0]) absolute = true;
      else if (absolute) return; // the other kind may call any way north
      samples.push({ at: performance.now(), value: read({ alpha: event.alpha, beta: event.beta, gamma: event.gamma, heading: event.webkitCompassHeading }) });
    });
  }
  setInterval(() => {
    if (!samples.length) return;
    const now = performance.now();
    // What was said last before the window still held when it began.
    const before = samples.findLastIndex((sample) => now - sample.at >= WINDOW);
    samples = samples.slice(Math.max(before, 0));
    const last = samples.at(-1);
    const spread = Math.max(...samples.flatMap((sample) => Object.keys(sample.value).map((key) => apart(sample.value[key], last.value[key]))));
    const middle = (key) => samples.reduce((sum, one) => sum + one.value[key], 0) / samples.length;
    const value = Object.fromEntries(
      Object.keys(last.value).map((key) => [key, key === "bearing" ? meanBearing(samples.map((one) => one.value[key])) : middle(key)]),
    );
    const long = before >= 0;
    tell({ value, steady: long && spread < STILL });
  }, 150);
  return true;
}
