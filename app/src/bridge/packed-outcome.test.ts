import { expect, test } from '@jest/globals';
import { runEdit, shotToJson } from '@kneader/core';
import { choose, curve, puppet } from '../../../core/src/testing/shot-literals.ts';
import { packOutcome, unpackOutcome } from './packed-outcome.ts';
import { SharedParts } from './shared-parts.ts';

test('what an edit changed arrives; what it left is the very same object on the page', () => {
  const shot = puppet({ 'hips.ty': curve([0, 1, 10, 5]) });
  const selection = choose({ channels: ['hips.ty'] });
  const [page, worker] = [new SharedParts('page'), new SharedParts('worker')];
  const there = worker.unpack(page.pack(shot));
  const moved = runEdit('keys.move', there, selection, { value: 2 });
  const home = unpackOutcome(packOutcome(moved, there, selection, worker), shot, selection, page);
  expect(shotToJson(home.shot)).toEqual(shotToJson(moved.shot));
  expect(home.report).toEqual(moved.report);

  const saved = runEdit('actions.save', moved.shot, selection, { name: 'Hop' });
  const packed = packOutcome(saved, moved.shot, selection, worker);
  expect([packed.shot, packed.selection]).toEqual([null, null]);
  const then = unpackOutcome(packed, home.shot, selection, page);
  expect([then.shot === home.shot, then.selection === selection]).toEqual([true, true]);
  expect(then.made).toEqual(saved.made);

  const other = choose({ nodes: ['arm_l'] });
  const chosen = unpackOutcome(
    packOutcome({ ...moved, selection: other }, there, selection, worker),
    shot,
    selection,
    page,
  );
  expect(chosen.selection).toEqual(other);
});
