import { App, Button } from 'antd';
import type { MessageInstance } from 'antd/es/message/interface';
import { useEffect } from 'react';
import { copyWhatShows, showsOtherwise } from '@kneader/core';
import type { Selection, Shot } from '@kneader/core';
import { pastePose } from './bench-actions.ts';
import { bench, useBench } from './bench-store.ts';
import { clippingOf, clippingText, readClipping } from './clipboard.ts';
import { isWriting } from './keys/key-owner.ts';

/**
 * Copy, cut and paste through the system's clipboard, so that they work between two shots in two tabs. With Shift a pose is pasted
 * flipped.
 */
export function useClipboard(): void {
  const { message } = App.useApp();
  useEffect(() => {
    let flip = false;
    const watch = (event: KeyboardEvent) => (flip = event.shiftKey);
    const copy = (event: ClipboardEvent) => {
      if (isWriting(event.target) || window.getSelection()?.toString()) return;
      const { session, frame } = useBench.getState();
      const clipping = clippingOf(session.shot, session.selection, frame);
      event.preventDefault();
      // Cutting a pose would take keys that nobody chose.
      if (clipping.kind === 'pose' && event.type === 'cut') return;
      event.clipboardData?.setData('text/plain', clippingText(clipping));
      if (clipping.kind === 'pose') {
        bench.setPose(clipping.pose);
        return;
      }
      bench.setClip(clipping.clip);
      if (event.type === 'cut') bench.perform('keys.delete', {});
      const count = Object.keys(clipping.clip.curves).length;
      const said = `Copied keys of ${count} ${count === 1 ? 'channel' : 'channels'}.`;
      const { shot, selection } = session;
      if (event.type === 'cut' || !showsOtherwise(shot, selection)) void message.info(said);
      else
        void message.info({
          key: COPIED,
          duration: 6,
          content: <CopiedUnderLayers said={said} onShows={() => void copyShown(shot, selection, message)} />,
        });
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

const COPIED = 'copied';

/** Layers make something else of the keys: what shows can be had instead. */
function CopiedUnderLayers({ said, onShows }: { readonly said: string; readonly onShows: () => void }) {
  return (
    <span>
      {said} Layers make something else of them.{' '}
      <Button size="small" onClick={onShows}>
        Copy what shows
      </Button>
    </span>
  );
}

async function copyShown(shot: Shot, selection: Selection, message: MessageInstance): Promise<void> {
  const clip = copyWhatShows(shot, selection);
  if (!clip) return;
  bench.setClip(clip);
  try {
    await navigator.clipboard.writeText(clippingText({ kind: 'keys', clip }));
    void message.info({ key: COPIED, content: 'Copied what shows.' });
  } catch {
    void message.warning({
      key: COPIED,
      content: 'The browser did not let the clipboard be written: copy once more.',
    });
  }
}

/** Pastes what the text holds; a sentence where it holds nothing of use. */
function take(text: string, flip: boolean): string | null {
  const clipping = readClipping(text);
  switch (clipping.kind) {
    case 'nothing':
      return clipping.sentence;
    case 'pose':
      bench.setPose(clipping.pose);
      pastePose(flip);
      return null;
    case 'keys': {
      const { clip } = clipping;
      bench.setClip(clip);
      const { frame } = useBench.getState();
      const { report } = bench.perform('keys.paste', { clip, frame: clip.whole ? null : frame });
      return report.status === 'refused' ? (report.findings[0]?.sentence ?? null) : null;
    }
  }
}
