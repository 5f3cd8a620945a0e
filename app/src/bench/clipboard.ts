/** What goes to the system's clipboard, and what a text from it holds. */
import { capturePose, copyKeys, InputError, poseSchema, readClip } from '@kneader/core';
import type { ClipJson, Selection, Shot, StoredPose } from '@kneader/core';

/** How a pose is marked in the clipboard's text; keys have a format of their own. */
const POSE_FORMAT = 'kneader-pose';
const KEYS_FORMAT = 'kneader-keys';

export type Clipping =
  { readonly kind: 'keys'; readonly clip: ClipJson } | { readonly kind: 'pose'; readonly pose: StoredPose };

/** Chosen keys, or a chosen range, are copied as keys; else the pose at the frame is, of the selected controls or of all. */
export function clippingOf(shot: Shot, selection: Selection, frame: number): Clipping {
  const { keys, range } = selection;
  const wantsKeys = range !== null || Object.values(keys).some((ids) => ids.length > 0);
  const clip = wantsKeys ? copyKeys(shot, selection) : null;
  if (clip) return { kind: 'keys', clip };
  return { kind: 'pose', pose: capturePose(shot, { ...selection, keys: {} }, frame) };
}

export function clippingText(clipping: Clipping): string {
  return JSON.stringify(clipping.kind === 'keys' ? clipping.clip : { format: POSE_FORMAT, ...clipping.pose });
}

/** What the text holds; a sentence where it holds nothing of use. */
export function readClipping(
  text: string,
): Clipping | { readonly kind: 'nothing'; readonly sentence: string } {
  const nothing = (sentence: string) => ({ kind: 'nothing', sentence }) as const;
  const other = nothing('The clipboard holds other text: no keys and no pose of Kneader.');
  if (text.trim() === '') return nothing('The clipboard is empty: copy keys or a pose first (Ctrl C).');
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return other;
  }
  const format = (value as { format?: unknown } | null)?.format;
  if (format === POSE_FORMAT) {
    const pose = poseSchema.safeParse(value);
    return pose.success
      ? { kind: 'pose', pose: pose.data }
      : nothing('The pose on the clipboard is damaged.');
  }
  if (format !== KEYS_FORMAT) return other;
  try {
    return { kind: 'keys', clip: readClip(value).json };
  } catch (error) {
    if (error instanceof InputError) return nothing(error.finding.sentence);
    throw error;
  }
}
