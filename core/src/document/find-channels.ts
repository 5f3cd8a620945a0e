/** Finding channels by words: `ry`, `hand`, `left rot`. */
import { channelKind } from '../rig/node.ts';
import type { Node } from '../rig/node.ts';

const TRANSFORM = /^[trs][xyz]$/;

/** Whether each word is in the control's name, its side, part or kind, or is the channel's name. */
export function matchesWords(node: Node, channel: string, words: readonly string[]): boolean {
  if (words.length === 0) return true;
  const text = `${node.id} ${channel} ${node.side} ${node.part} ${channelKind(channel)}`.toLowerCase();
  return words.every((word) => (TRANSFORM.test(word) ? channel === word : text.includes(word)));
}

export const wordsOf = (sought: string): string[] => sought.toLowerCase().split(/\s+/).filter(Boolean);
