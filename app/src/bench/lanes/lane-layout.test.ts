import { beforeEach, expect, test } from '@jest/globals';
import {
  LANE_IDS,
  laneLayout,
  movedLane,
  orderedLanes,
  useLaneLayout,
  withinHeights,
} from './lane-layout.ts';
import type { LaneId } from './lane-layout.ts';

beforeEach(() => {
  useLaneLayout.setState(useLaneLayout.getInitialState());
});

const without = (...ids: readonly LaneId[]) => LANE_IDS.filter((id) => !ids.includes(id));

test('a lane takes the place of the one that it is dropped on, upward and downward', () => {
  expect(movedLane(LANE_IDS, 'curves', 'poses')).toEqual(['curves', 'poses', ...without('curves', 'poses')]);
  expect(movedLane(LANE_IDS, 'poses', 'curves')).toEqual([...without('poses'), 'poses']);
  expect(movedLane(LANE_IDS, 'warp', 'warp')).toEqual([...LANE_IDS]);
});

test('lanes that were not known are there, and what is no lane is not', () => {
  const all = ['curves', 'poses', ...without('curves', 'poses')];
  expect(orderedLanes(['curves', 'poses'])).toEqual(all);
  expect(orderedLanes(['oven' as LaneId, 'curves'])).toEqual(['curves', ...without('curves')]);
  expect(without('curves', 'poses').slice(0, 2)).toEqual(['passes', 'spaces']);
});

test('lanes are shown when they are asked for, once', () => {
  laneLayout.show('lean', true);
  laneLayout.show('lean', true);
  laneLayout.show('roughness', true);
  expect(useLaneLayout.getState().shown).toEqual(['lean', 'roughness']);
  laneLayout.show('lean', false);
  expect(useLaneLayout.getState().shown).toEqual(['roughness']);
});

test('folded once and opened again; heights stay within bounds', () => {
  laneLayout.fold('poses', true);
  laneLayout.fold('poses', true);
  expect(useLaneLayout.getState().folded).toEqual(['poses']);
  laneLayout.fold('poses', false);
  expect(useLaneLayout.getState().folded).toEqual([]);
  laneLayout.resize('poses', 3);
  expect(useLaneLayout.getState().heights).toEqual({ poses: 44 });
  expect([withinHeights(9999), withinHeights(100.4)]).toEqual([420, 100]);
});
