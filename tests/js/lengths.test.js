// The browser reads lengths as the server does: the same table is read by sundial.quantities in tests/core/test_quantities.py.
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { test } from "node:test";
import { formatLength, parseLength } from "../../web/static/js/lengths.js";

const cases = JSON.parse(readFileSync(new URL("./lengths.json", import.meta.url)));

for (const [typed, us, metres] of cases) {
  test(`${JSON.stringify(typed)} in ${us ? "feet" : "metres"}`, () => {
    const found = parseLength(typed, us);
    if (metres === null) assert.ok(Number.isNaN(found), `${found} should be no length`);
    else assert.ok(Math.abs(found - metres) < 1e-9, `${found} is not ${metres}`);
  });
}

test("what is shown is read again", () => {
  for (const metres of [0.005, 1.72, 3.5, 12.25, -4.4]) {
    assert.ok(Math.abs(parseLength(formatLength(metres)) - metres) < 0.006);
    assert.ok(Math.abs(parseLength(formatLength(metres, true), true) - metres) < 0.0254 / 4 + 1e-9);
  }
  assert.equal(formatLength(3.4544, true), "11 ft 4 in");
  assert.equal(formatLength(0, true), "0 in");
  assert.equal(formatLength(-0.3048, true), "−1 ft");
});
