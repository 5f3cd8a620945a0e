/**
 * Samples of channels and of world transforms as CSV: first column `frame`, then one for each channel
 * `node.channel`, then `node.x,y,z` (cm) and `node.qx,qy,qz,qw` for each node asked for. RFC 4180.
 */
import { refuse } from '../../base/finding.ts';
import { newWorldPose } from '../../rig/pose.ts';
import { channelValues, worldInto } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

export interface CsvRequest {
  readonly frames: ArrayLike<number>;
  readonly channels: readonly ChannelId[];
  /** Nodes whose world transforms are wanted. */
  readonly world: readonly string[];
}

const MOST_SAMPLES = 20_000_000;

/** The CSV text; refuses unknown names and more than 20 million samples. */
export function writeCsv(shot: Shot, request: CsvRequest): string {
  const { frames, channels, world } = request;
  const rig = rigOf(shot);
  const columns = channels.map((id) => {
    const index = rig.channelIndex(id);
    return index < 0 ? refuse('unknownChannel', { channel: id }, id) : index;
  });
  const nodes = world.map((id) => {
    const index = rig.indexOf(id);
    return index < 0 ? refuse('unknownNode', { node: id }, id) : index;
  });
  const width = columns.length + nodes.length * 7;
  if (frames.length * width > MOST_SAMPLES) refuse('notSampleable', {}, frames.length * width);
  const header = [
    'frame',
    ...channels,
    ...world.flatMap((id) => ['x', 'y', 'z', 'qx', 'qy', 'qz', 'qw'].map((part) => `${id}.${part}`)),
  ];
  const lines = [header.map(quoted).join(',')];
  const values = new Float64Array(rig.channels.length);
  const pose = newWorldPose(rig);
  for (const frame of Array.from(frames)) {
    if (nodes.length > 0) worldInto(shot, frame, values, pose);
    else channelValues(shot, frame, values);
    const row = [frame, ...columns.map((c) => values[c]!)];
    for (const node of nodes)
      row.push(
        ...pose.matrices.subarray(node * 16 + 12, node * 16 + 15),
        ...pose.turns.subarray(node * 4, node * 4 + 4),
      );
    lines.push(row.map((value) => String(value === 0 ? 0 : value)).join(','));
  }
  return `${lines.join('\n')}\n`;
}

/** A name that a spreadsheet would take for a formula is led by an apostrophe, which it shows nowhere (OWASP, CSV injection). */
const harmless = (text: string) => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);
const quoted = (given: string) => {
  const text = harmless(given);
  return /[",\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
};
