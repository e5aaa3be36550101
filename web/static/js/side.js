// A frame from the side, in metres behind and above the ground under its front support: the same geometry as the core's
// (sundial/frames), so that a hand can drag it without asking the server. A test holds both together.
const rad = (degrees) => (degrees * Math.PI) / 180;
const deg = (radians) => (radians * 180) / Math.PI;
const from = ([x, z], length, angle) => [x + length * Math.cos(rad(angle)), z + length * Math.sin(rad(angle))];

// Tilt, degrees from level, that a prop (or a spreader between the legs of an A-frame) sets; null where it does not close.
export function propTilt(frame, { rail_point: p, length: l, base_hole: q }) {
  const cosine = (p * p + q * q - l * l) / (2 * p * q);
  if (!(cosine > -1 && cosine < 1)) return null;
  const angle = Math.acos(cosine);
  if (!frame.legs) return deg(angle) + frame.slope;
  const [front, back] = frame.legs;
  return deg(Math.atan2(back * Math.sin(angle), front - back * Math.cos(angle))) + frame.slope;
}

export function legsTilt(frame, rear) {
  const reach = ((rear - frame.front_height) / frame.spacing) * Math.cos(rad(frame.slope));
  return Math.abs(reach) > 1 ? null : frame.slope + deg(Math.asin(reach));
}

// What sets a tilt in a frame with holes, and the tilt it sets.
export function tiltOf(frame, held) {
  if (frame.kind === "prop") return propTilt(frame, held);
  if (frame.kind === "legs") return legsTilt(frame, held.rear_height);
  return null;
}

export function jackLength(frame, tilt) {
  const lean = rad(tilt - frame.slope);
  return Math.hypot(frame.rail_point * Math.cos(lean) - frame.base[0], frame.rail_point * Math.sin(lean) - frame.base[1]);
}

// The flattest and steepest that the stroke of a jack reaches.
export function jackSpan(frame) {
  const far = Math.hypot(...frame.base);
  const ends = frame.stroke.map((length) => {
    const cosine = (frame.rail_point ** 2 + far ** 2 - length ** 2) / (2 * frame.rail_point * far);
    return deg(Math.atan2(frame.base[1], frame.base[0])) + deg(Math.acos(Math.max(-1, Math.min(1, cosine)))) + frame.slope;
  });
  return [Math.max(ends[0], 0), Math.min(ends[1], 90)];
}

export function glassLine(frame, tilt, length) {
  const low =
    frame.kind === "pole"
      ? from(from([0, frame.height], frame.offset, tilt + 90), -(frame.joint ?? length / 2), tilt)
      : from([0, frame.front_height], -frame.overhang, tilt);
  return { name: "glass", start: low, end: from(low, length, tilt) };
}

function actuator(jack, hinge, tilt) {
  const base = from(hinge, Math.hypot(...jack.base), deg(Math.atan2(jack.base[1], jack.base[0])) + jack.slope);
  return { name: "actuator", start: base, end: from(hinge, jack.rail_point, tilt) };
}

// All parts at a tilt; of a frame with holes, as one of them is set.
export function sideLines(frame, tilt, length, held = {}) {
  const glass = glassLine(frame, tilt, length);
  const hinge = [0, frame.front_height];
  const line = (name, start, end) => ({ name, start, end });
  const fall = Math.tan(rad(frame.slope));
  if (frame.kind === "legs") {
    const rear = from(hinge, frame.spacing, tilt);
    const foot = [rear[0], rear[0] * fall];
    return [glass, line("front leg", [0, 0], hinge), line("rear leg", foot, rear), line("base", [0, 0], foot)];
  }
  if (frame.kind === "pole") {
    const top = [0, frame.height];
    const found = [glass, line("pole", [0, 0], top), line("joint", top, from(top, frame.offset, tilt + 90))];
    return frame.screw ? [...found, actuator(frame.screw, top, tilt)] : found;
  }
  if (frame.kind === "prop" && frame.legs) {
    const [front, back] = frame.legs;
    const { rail_point: p, length: bar, base_hole: q } = held;
    const top = from(hinge, front, tilt);
    const spread = (p * p + q * q - bar * bar) / (2 * p * q);
    const end = from(hinge, Math.sqrt(front * front + back * back - 2 * front * back * spread), frame.slope);
    const at = [top[0] + ((end[0] - top[0]) * q) / back, top[1] + ((end[1] - top[1]) * q) / back];
    return [glass, line("front leg", hinge, top), line("back leg", top, end), line("spreader", from(top, -p, tilt), at)];
  }
  if (frame.kind === "prop") {
    const end = from(hinge, Math.max(...frame.base_holes), frame.slope);
    const found = [
      glass,
      line("base bar", hinge, end),
      line("prop", from(hinge, held.base_hole, frame.slope), from(hinge, held.rail_point, tilt)),
    ];
    if (frame.front_height > 0) found.push(line("front post", [0, 0], hinge), line("rear post", [end[0], end[0] * fall], end));
    return found;
  }
  if (frame.kind === "jack") {
    return [glass, line("post", [0, 0], hinge), actuator(frame, hinge, tilt)];
  }
  if (frame.kind === "wall") {
    const at = glass.end[0];
    const high = Math.max(glass.end[1], frame.lower_height) + 0.3;
    return [glass, line("wall", [at, 0], [at, high]), line("strut", [at, frame.lower_height], glass.start)];
  }
  if (frame.kind === "wedge") {
    const board = frame.slope_length ?? Math.hypot(frame.run, frame.rise);
    const foot = from(hinge, board * Math.cos(rad(tilt - frame.slope)), frame.slope);
    return [glass, line("base", hinge, foot), line("upright", foot, from(hinge, board, tilt))];
  }
  return [glass];
}

const place = (values, value) => (values.length ? Math.max(values.indexOf(value), 0) : null);

// What a kind is asked, as dimension lines beside its parts: the same as the core's.
export function dimensions(frame, tilt, length, held = {}) {
  const hinge = [0, frame.front_height];
  const lines = Object.fromEntries(sideLines(frame, tilt, length, held).map((line) => [line.name, line]));
  const found = [];
  const add = (key, name, start, end, side, number = null) => found.push({ key, name, start, end, side, number });
  const jackMeasures = (turns) => {
    add("rail_point", "rail point", turns, lines.actuator.end, 1);
    add(null, "actuator", lines.actuator.start, lines.actuator.end, -1);
  };
  if (frame.front_height > 0.05 && frame.kind !== "pole" && frame.kind !== "wall") add("front_height", "front height", [0, 0], hinge, 1);
  if (frame.kind === "legs") {
    const rear = lines["rear leg"];
    const number = place(frame.rear_heights, held.rear_height);
    add("support_spacing", "spacing", hinge, rear.end, 1);
    add(number === null ? null : "rear_heights", "rear leg", rear.start, rear.end, -1, number);
  } else if (frame.kind === "pole") {
    add("height", "pole", lines.pole.start, lines.pole.end, frame.screw ? 1 : -1);
    if (frame.screw) jackMeasures([0, frame.height]);
  } else if (frame.kind === "prop") {
    const [rail, size, base] = [place(frame.rail_points, held.rail_point), place(frame.lengths, held.length), place(frame.base_holes, held.base_hole)];
    if (frame.legs) {
      add("front_leg", "front leg", lines["front leg"].start, lines["front leg"].end, 1);
      add("back_leg", "back leg", lines["back leg"].start, lines["back leg"].end, 1);
      add("lengths", "spreader", lines.spreader.start, lines.spreader.end, -1, size);
    } else {
      add("rail_points", "rail point", hinge, lines.prop.end, 1, rail);
      add("lengths", "prop", lines.prop.start, lines.prop.end, -1, size);
      add("base_holes", "base hole", hinge, lines.prop.start, -1, base);
    }
  } else if (frame.kind === "jack") {
    jackMeasures(hinge);
  } else if (frame.kind === "wall") {
    const [at] = lines.wall.start;
    add("lower_height", "lower ledger", [at, 0], [at, frame.lower_height], -1);
  } else if (frame.kind === "wedge") {
    add("rise", "rise", lines.upright.start, lines.upright.end, -1);
    if (frame.slope_length !== null && frame.slope_length !== undefined) add("slope_length", "board", hinge, lines.upright.end, 1);
  }
  return found;
}

const ASIDE = 15; // px from a part to its dimension line

// A dimension line in pixels (y down): its path with an end mark each, where its number stands, and how that is anchored.
export function dimensionLine([x1, y1], [x2, y2], side) {
  const far = Math.hypot(x2 - x1, y2 - y1) || 1;
  const [nx, ny] = [((y2 - y1) / far) * side, (-(x2 - x1) / far) * side]; // to the left of the way, as it is seen
  const [ax, ay, bx, by] = [x1 + nx * ASIDE, y1 + ny * ASIDE, x2 + nx * ASIDE, y2 + ny * ASIDE];
  const mark = ([x, y]) => `M${(x - nx * 4).toFixed(1)} ${(y - ny * 4).toFixed(1)}L${(x + nx * 4).toFixed(1)} ${(y + ny * 4).toFixed(1)}`;
  const anchor = nx > 0.35 ? "start" : nx < -0.35 ? "end" : "middle";
  return {
    d: `M${ax.toFixed(1)} ${ay.toFixed(1)}L${bx.toFixed(1)} ${by.toFixed(1)}${mark([ax, ay])}${mark([bx, by])}`,
    x: Number(((ax + bx) / 2 + nx * 5).toFixed(1)),
    y: Number(((ay + by) / 2 + ny * 10 + 4).toFixed(1)),
    anchor,
  };
}
