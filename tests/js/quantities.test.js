// The browser tells quantities as the server does: the same table is told by sundial.quantities in tests/core/test_kinds_of_quantity.py.
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { test } from "node:test";
import { forceText, massText, speedText } from "../../web/static/js/quantities.js";

const tell = { mass: massText, force: forceText, speed: speedText };

test("every string is the server's", () => {
  for (const [kind, value, us, text] of JSON.parse(readFileSync(new URL("./quantities.json", import.meta.url)))) {
    assert.equal(tell[kind](value, us), text, `${kind} ${value}`);
  }
});
