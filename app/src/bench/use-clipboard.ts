import { App } from 'antd';
import { useEffect } from 'react';
import { copyKeys, InputError, poseSchema, readClip } from '@kneader/core';
import { pastePose } from './bench-actions.ts';
import { bench, useBench } from './bench-store.ts';
import { isWriting } from './use-shortcuts.ts';

/** What the system's clipboard holds of a pose; keys have a format of their own. */
const POSE_FORMAT = 'kneader-pose';

/**
 * Copy, cut and paste through the system's clipboard, so that they work between two shots in two tabs. Chosen keys, or a
 * chosen range, are copied as keys; else the pose at the play-head is. With Shift a pose is pasted flipped.
 */
export function useClipboard(): void {
  const { message } = App.useApp();
  useEffect(() => {
    let flip = false;
    const watch = (event: KeyboardEvent) => (flip = event.shiftKey);
    const copy = (event: ClipboardEvent) => {
      if (isWriting(event.target) || window.getSelection()?.toString()) return;
      const { session } = useBench.getState();
      const { keys, range } = session.selection;
      const wantsKeys = range !== null || Object.values(keys).some((ids) => ids.length > 0);
      const clip = wantsKeys ? copyKeys(session.shot, session.selection) : null;
      event.preventDefault();
      if (clip) {
        bench.setClip(clip);
        event.clipboardData?.setData('text/plain', JSON.stringify(clip));
        if (event.type === 'cut') bench.perform('keys.delete', {});
        const count = Object.keys(clip.curves).length;
        void message.info(`Copied keys of ${count} ${count === 1 ? 'channel' : 'channels'}.`);
      } else if (event.type === 'copy') {
        bench.copyPose();
        const text = JSON.stringify({ format: POSE_FORMAT, ...useBench.getState().pose });
        event.clipboardData?.setData('text/plain', text);
      }
    };
    const paste = (event: ClipboardEvent) => {
      if (isWriting(event.target)) return;
      event.preventDefault();
      const problem = take(event.clipboardData?.getData('text/plain') ?? '', flip);
      if (problem) void message.warning(problem);
    };
    window.addEventListener('keydown', watch, { capture: true });
    document.addEventListener('copy', copy);
    document.addEventListener('cut', copy);
    document.addEventListener('paste', paste);
    return () => {
      window.removeEventListener('keydown', watch, { capture: true });
      document.removeEventListener('copy', copy);
      document.removeEventListener('cut', copy);
      document.removeEventListener('paste', paste);
    };
  }, [message]);
}

/** Pastes what the text holds; a sentence where it holds nothing of use. */
function take(text: string, flip: boolean): string | null {
  if (text.trim() === '') return 'The clipboard is empty: copy keys or a pose first (Ctrl C).';
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return 'The clipboard holds other text: no keys and no pose of Kneader.';
  }
  const format = (value as { format?: unknown } | null)?.format;
  if (format === POSE_FORMAT) {
    const pose = poseSchema.safeParse(value);
    if (!pose.success) return 'The pose on the clipboard is damaged.';
    bench.setPose(pose.data);
    pastePose(flip);
    return null;
  }
  if (format !== 'kneader-keys') return 'The clipboard holds other text: no keys and no pose of Kneader.';
  try {
    const { json } = readClip(value);
    bench.setClip(json);
    const { frame } = useBench.getState();
    const { report } = bench.perform('keys.paste', { clip: json, frame: json.whole ? null : frame });
    return report.status === 'refused' ? (report.findings[0]?.sentence ?? null) : null;
  } catch (error) {
    if (error instanceof InputError) return error.finding.sentence;
    throw error;
  }
}
