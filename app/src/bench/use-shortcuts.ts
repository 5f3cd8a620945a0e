import { useEffect } from 'react';
import { bench, useBench } from './bench-store.ts';
import { deleteSelectedKeys, frameCurves, nudgeKeys, setTangentKind, TANGENT_KEYS } from './bench-actions.ts';

/** Whether the person is writing into a field. */
function isWriting(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}

/**
 * The bench's keystrokes. By Kneader's own reason: the numbers are the tangent kinds in the order in which the panel lists
 * them, N is a new key, B is before, O the overview, / finds an edit. Space, arrows, Home, End, Delete and Escape mean what
 * they mean everywhere, and so do those of the clipboard (`use-clipboard.ts`).
 */
export function useShortcuts(): void {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (isWriting(event.target)) return;
      const handled = event.ctrlKey || event.metaKey ? withControl(event) : plain(event);
      if (handled) event.preventDefault();
    };
    const up = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === 'b' && useBench.getState().comparison === 'before')
        bench.setComparison('after');
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
    };
  }, []);
}

function withControl(event: KeyboardEvent): boolean {
  switch (event.key.toLowerCase()) {
    case 'z':
      if (event.shiftKey) bench.redo();
      else bench.undo();
      return true;
    case 'y':
      bench.redo();
      return true;
    default:
      return false;
  }
}

function plain(event: KeyboardEvent): boolean {
  const { session, frame, playing } = useBench.getState();
  const onButton =
    event.target instanceof HTMLElement &&
    event.target.closest('button, a, [role="button"], [role="slider"], [role="radiogroup"]') !== null;
  switch (event.key) {
    case ' ':
      if (onButton) return false;
      bench.setPlaying(!playing);
      return true;
    case 'ArrowLeft':
    case 'ArrowRight': {
      if (onButton && !event.altKey) return false;
      const way = event.key === 'ArrowLeft' ? -1 : 1;
      if (event.altKey) nudgeKeys(way, 0);
      else bench.step(way * (event.shiftKey ? 10 : 1));
      return true;
    }
    case 'ArrowUp':
    case 'ArrowDown':
      if (!event.altKey) return false;
      nudgeKeys(0, (event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 0.1 : 1));
      return true;
    case 'Home':
      bench.setFrame(session.shot.range.start);
      return true;
    case 'End':
      bench.setFrame(session.shot.range.end);
      return true;
    case 'Delete':
    case 'Backspace':
      deleteSelectedKeys();
      return true;
    case 'Escape':
      if (useBench.getState().gesture) bench.cancelGesture();
      else if (useBench.getState().openEdit) bench.openEdit(null);
      else bench.select({ ...session.selection, keys: {}, range: null });
      return true;
    default:
      break;
  }
  const letter = event.key.toLowerCase();
  const tangent = TANGENT_KEYS[letter];
  if (tangent) setTangentKind(tangent);
  else if (letter === 'n') bench.perform('keys.add', { frame });
  else if (letter === 'b') bench.setComparison('before');
  else if (letter === 'o') frameCurves();
  else return false;
  return true;
}
