import assert from "node:assert/strict";
import { test } from "node:test";
import { History, QUICK } from "../../web/static/js/history.js";

const at = { ms: 0 };
const history = (most) => new History(most, () => at.ms);

test("undo and redo walk the states", () => {
  const kept = history();
  kept.changed("a");
  kept.changed("b");
  assert.equal(kept.undo("c"), "b");
  assert.equal(kept.undo("b"), "a");
  assert.equal(kept.undo("a"), null);
  assert.equal(kept.redo("a"), "b");
  assert.equal(kept.redo("b"), "c");
  assert.equal(kept.redo("c"), null);
});

test("a new change forgets what was undone", () => {
  const kept = history();
  kept.changed("a");
  kept.undo("b");
  kept.changed("a");
  assert.equal(kept.redo("x"), null);
});

test("quick changes of one kind undo together, others by themselves", () => {
  const kept = history();
  at.ms = 10_000;
  kept.changed("a", "move Walnut");
  at.ms += QUICK - 1;
  kept.changed("b", "move Walnut");
  kept.changed("c", "move Hazel");
  at.ms += QUICK;
  kept.changed("d", "move Hazel");
  kept.changed("e");
  kept.changed("f");
  assert.deepEqual(kept.done, ["a", "c", "d", "e", "f"]);
});

test("after an undo the next quick change stands by itself", () => {
  const kept = history();
  kept.changed("a", "size");
  kept.undo("b");
  kept.changed("a", "size");
  assert.deepEqual(kept.done, ["a"]);
});

test("the oldest states go", () => {
  const kept = history(3);
  for (const state of ["a", "b", "c", "d"]) kept.changed(state);
  assert.deepEqual(kept.done, ["b", "c", "d"]);
});
