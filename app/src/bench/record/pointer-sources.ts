/** The pointer as a source: up and down for channels, or over the stage for a place. */
import { shownValues, valuesAt, rigOf } from '@kneader/core';
import type { ChannelId, Shot, Take } from '@kneader/core';
import { placeUnder } from './stage-pointer.ts';
import type { Listening, Source } from './source.ts';

/** Calls for every place at which the pointer was, those between two pictures too. */
function onPointer(
  to: Listening,
  at: (event: PointerEvent) => Readonly<Record<string, number>> | null,
): () => void {
  const moved = (event: PointerEvent) => {
    to.late(performance.now() - event.timeStamp);
    const all = event.getCoalescedEvents?.() ?? [];
    for (const one of all.length > 0 ? all : [event]) {
      const values = at(one);
      if (values) to.push(one.timeStamp, values);
    }
  };
  window.addEventListener('pointermove', moved);
  return () => window.removeEventListener('pointermove', moved);
}

/**
 * Up is more: every channel goes from what shows by so much for each pixel.
 * @param perPixel the channel's unit
 */
export function dialSource(channels: readonly ChannelId[], perPixel: number): Source {
  return {
    listen: (to) => onPointer(to, ({ clientY }) => ({ y: clientY })),
    values(take: Take, times, shot: Shot, from) {
      const trace = take.traces.get('y');
      if (!trace || times.length === 0) return {};
      const rig = rigOf(shot);
      const begin = trace.at(times[0]!);
      const shown = valuesAt(shot, from);
      return Object.fromEntries(
        channels.map((id) => {
          const start = shown[rig.channelIndex(id)]!;
          return [id, Array.from(times, (time) => start + perPixel * (begin - trace.at(time)))];
        }),
      );
    },
    remarks: () => [],
  };
}

/** The control goes where the pointer is, on the plane through it that faces the eye. */
export function placeSource(node: string): Source {
  // Frames that no later input will change are worked out once.
  const settled: Readonly<Record<ChannelId, number>>[] = [];
  return {
    listen: (to) =>
      onPointer(to, ({ clientX, clientY }) => {
        const place = placeUnder(clientX, clientY, node);
        return place && { x: place[0], y: place[1], z: place[2] };
      }),
    values(take, times, shot, from) {
      const [x, y, z] = ['x', 'y', 'z'].map((name) => take.traces.get(name));
      if (!x || !y || !z) return {};
      const rows = Array.from(times, (time, i) => {
        if (settled[i]) return settled[i];
        const row = shownValues(shot, from + i, {
          kind: 'place',
          node,
          place: [x.at(time), y.at(time), z.at(time)],
        });
        if (time <= x.end) settled[i] = row;
        return row;
      });
      const channels = Object.keys(rows[0] ?? {});
      return Object.fromEntries(channels.map((id) => [id, rows.map((row) => row[id] ?? 0)]));
    },
    remarks: () => [],
  };
}
