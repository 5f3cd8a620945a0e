/** Twenty characters under three passes and filters on a third of their channels: playing, one changed key, a slider of a spring. */
import { channelValues, newShot, rigOf, runEdit, stackOf, withCurves } from '@kneader/core';
import type { Layer, Shot } from '@kneader/core';
import { controls, layer, threePasses, wave } from './crowd.ts';
import { median, ratioOf, timeOf } from './measure.ts';
import type { Row } from './measure.ts';

const [CHARACTERS, CONTROLS, FRAMES] = [20, 60, 240];
const CHANNELS = ['rx', 'ry', 'rz'];
const FRAME_BUDGET_MS = 16;

export function layersRows(): Row[] {
  const shot = crowd();
  return [playing(shot), oneKey(shot), springSlider(), followSlider(), ...placed()];
}

function playing(shot: Shot): Row {
  const count = rigOf(shot).channels.length;
  const out = new Float64Array(count);
  const bytes = new Float64Array(count * FRAMES);
  const play = () => {
    for (let frame = 0; frame < FRAMES; frame += 1) channelValues(shot, frame, out, true);
  };
  const copy = () => {
    for (let frame = 0; frame < FRAMES; frame += 1)
      out.set(bytes.subarray(frame * count, (frame + 1) * count));
  };
  const ratio = 1 / ratioOf(play, copy, 15);
  return {
    work: `play ${CHARACTERS} characters × ${CONTROLS} controls, 3 passes, filters on a third, after the first run`,
    against: 'copying the same bytes',
    measured: `${ratio.toFixed(1)}× its time`,
    toReach: '≤ 4×',
    reached: ratio <= 4,
  };
}

function oneKey(shot: Shot): Row {
  const ten = {
    ...shot,
    layers: [
      ...shot.layers,
      ...Array.from({ length: 10 - shot.layers.length }, (_, i) => filter(`more ${i}`, 'shift', shot)),
    ],
  };
  const before = stackOf(ten).top;
  const id = rigOf(ten).channels[7]!.id;
  const after = stackOf(withCurves(ten, null, new Map([[id, wave(99)]]))).top;
  const fresh = after.filter((signal, c) => signal !== before[c]).length;
  return {
    work: 'one changed key under ten layers',
    against: `signals made anew, of ${after.length}`,
    measured: String(fresh),
    toReach: '1',
    reached: fresh === 1,
  };
}

function springSlider(): Row {
  const nodes = controls(1, 14, CHANNELS);
  const bare = newShot('Chain', nodes, [], { numerator: 24, denominator: 1 }, { start: 0, end: FRAMES - 1 });
  const ids = nodes.flatMap(({ id }) => CHANNELS.map((name) => `${id}.${name}`)).slice(0, 40);
  const keyed = withCurves(bare, null, new Map(ids.map((id, i) => [id, wave(i)])));
  const shot = { ...keyed, layers: [filter('spring', 'spring', keyed)] };
  const selection = { nodes: [], channels: [], keys: {}, range: null, layer: null };
  const out = new Float64Array(rigOf(shot).channels.length);
  const times = Array.from({ length: 21 }, (_, i) =>
    timeOf(() => {
      const { shot: turned } = runEdit('filters.set', shot, selection, {
        filter: 'spring',
        settings: { frequency: 1 + i / 10 },
      });
      for (let frame = 0; frame < FRAMES; frame += 1) channelValues(turned, frame, out, true);
    }),
  );
  const ms = median(times);
  return {
    work: `turn a spring on 40 channels × ${FRAMES} frames, all values anew`,
    against: 'a frame budget of 16 ms',
    measured: `${ms.toFixed(1)} ms`,
    toReach: `≤ ${FRAME_BUDGET_MS} ms`,
    reached: ms <= FRAME_BUDGET_MS,
  };
}

function followSlider(): Row {
  const [chains, links] = [12, 6];
  const nodes = controls(1, chains * links + 1, CHANNELS).map((node, i, all) => ({
    ...node,
    parent: i === 0 ? null : all[i % links === 1 ? 0 : i - 1]!.id,
    rest: { ...node.rest, translation: [0, -6, i % 2] as [number, number, number] },
  }));
  const bare = newShot('Chains', nodes, [], { numerator: 24, denominator: 1 }, { start: 0, end: FRAMES - 1 });
  const keyed = withCurves(
    bare,
    null,
    new Map(CHANNELS.map((name, i) => [`${nodes[0]!.id}.${name}`, wave(i)])),
  );
  const members = nodes.slice(1).map(({ id }) => id);
  const shot = { ...keyed, layers: [layer('follow', 'follow', keyed, { members })] };
  const selection = { nodes: [], channels: [], keys: {}, range: null, layer: null };
  const out = new Float64Array(rigOf(shot).channels.length);
  const times = Array.from({ length: 9 }, (_, i) =>
    timeOf(() => {
      const { shot: turned } = runEdit('filters.set', shot, selection, {
        filter: 'follow',
        settings: { frequency: 1 + i / 10 },
      });
      for (let frame = 0; frame < FRAMES; frame += 1) channelValues(turned, frame, out, true);
    }),
  );
  const ms = median(times);
  return {
    work: `turn a follow-through on ${chains} chains of ${links} × ${FRAMES} frames, all values anew`,
    against: 'a tenth of a second',
    measured: `${ms.toFixed(0)} ms`,
    toReach: '≤ 100 ms',
    reached: ms <= 100,
  };
}

/** An action over all controls, stretched and repeated, against a pass that holds as many keys as curves of its own. */
function placed(): Row[] {
  const bare = { ...crowd(), layers: [] };
  const curves = bare.nodes.map((_, i) => ({ rx: wave(i + 3), ry: wave(i + 5) }));
  const range = { start: 0, end: FRAMES - 1, rampIn: 6, rampOut: 6 };
  const pass = { ...bare, layers: [layer('pass', 'replace', bare, { curves, range })] };
  const action = { id: 'action', name: 'Action', length: FRAMES - 1, curves };
  const settings = { action: 'action', first: 0, factor: 1.5, from: 20, to: 100, repeats: 2 };
  const block = {
    ...bare,
    actions: [action],
    layers: [layer('block', 'placement', bare, { range, settings })],
  };
  const out = new Float64Array(rigOf(bare).channels.length);
  const play = (shot: Shot) => () => {
    for (let frame = 0; frame < FRAMES; frame += 1) channelValues(shot, frame, out, true);
  };
  const again = 1 / ratioOf(play(block), play(pass), 9);
  // Each time a little longer, and a ramp a little longer: nothing of the last time fits.
  let turn = 0;
  const longer = () => (turn += 1) * 1e-6;
  const anew =
    1 /
    ratioOf(
      () => {
        const [one] = block.layers;
        const factor = settings.factor + longer();
        play({ ...block, layers: [{ ...one!, settings: { ...one!.settings, factor } }] })();
      },
      () => {
        const rampIn = range.rampIn + longer();
        play({ ...pass, layers: [{ ...pass.layers[0]!, range: { ...range, rampIn } }] })();
      },
      5,
    );
  const row = (work: string, ratio: number): Row => ({
    work,
    against: 'the same number of keys on a replace pass',
    measured: `${ratio.toFixed(1)}× its time`,
    toReach: '≤ 2×',
    reached: ratio <= 2,
  });
  return [
    row(`play an action placed over ${CHARACTERS} × ${CONTROLS} controls, stretched and repeated`, again),
    row('the same, worked out anew, as after each change of its settings', anew),
  ];
}

const filter = (id: string, kind: string, shot: Shot): Layer =>
  layer(id, kind, shot, { members: shot.nodes.filter((_, i) => i % 3 === 0).map((node) => node.id) });

function crowd(): Shot {
  const nodes = controls(CHARACTERS, CONTROLS, CHANNELS);
  const bare = newShot('Crowd', nodes, [], { numerator: 24, denominator: 1 }, { start: 0, end: FRAMES - 1 });
  const characters = Array.from({ length: CHARACTERS }, (_, i) => ({ id: `character ${i}`, name: `${i}` }));
  const ids = nodes.flatMap(({ id }) => CHANNELS.map((name) => `${id}.${name}`));
  const keyed = withCurves({ ...bare, characters }, null, new Map(ids.map((id, i) => [id, wave(i)])));
  return {
    ...keyed,
    layers: [...threePasses(keyed), filter('spring', 'spring', keyed), filter('wobble', 'wobble', keyed)],
  };
}
