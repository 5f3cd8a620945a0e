/** What keystrokes and buttons of the bench share. */
import { bench, useBench } from './bench-store.ts';

export const TANGENT_KINDS = ['stepped', 'linear', 'flat', 'smooth', 'steady', 'free'] as const;
export type TangentChoice = (typeof TANGENT_KINDS)[number];

/** `1` … `6`. */
export const TANGENT_KEYS: Readonly<Record<string, TangentChoice>> = Object.fromEntries(
  TANGENT_KINDS.map((kind, i) => [String(i + 1), kind]),
);

function hasSelectedKeys(): boolean {
  return Object.values(useBench.getState().session.selection.keys).some((ids) => ids.length > 0);
}

export function setTangentKind(kind: TangentChoice): void {
  if (hasSelectedKeys()) bench.perform('tangents.set', { kind });
}

/** Deleting acts on chosen keys only: whole curves go through the panel, where what will happen is seen first. */
export function deleteSelectedKeys(): void {
  if (hasSelectedKeys()) bench.perform('keys.delete', {});
}

export function nudgeKeys(frames: number, value: number): void {
  if (hasSelectedKeys()) bench.perform('keys.move', { frames, value });
}

export function pastePose(flip: boolean, exclude: readonly string[] = []): void {
  const { pose, frame, session } = useBench.getState();
  if (!pose) return;
  const { pass } = session.selection;
  bench.perform('poses.paste', { pose, frame, flip, exclude: [...exclude] });
  // A paste keys other controls than those selected; the layer stays.
  if (useBench.getState().session.selection.pass !== pass) bench.select({ ...session.selection, pass });
}

type Listener = () => void;
const framing = new Set<Listener>();

/** Asks the curves lane to show all of its curves. */
export function frameCurves(): void {
  for (const listener of framing) listener();
}

export function onFrameCurves(listener: Listener): () => void {
  framing.add(listener);
  return () => framing.delete(listener);
}

/**
 * Shows values at the play-head: keyed on the chosen pass, or on the base. One gesture from the first update to the end.
 */
export const posing = {
  begin(): void {
    const { pass } = useBench.getState().session.selection;
    bench.beginGesture(pass === null ? 'poses.paste' : 'passes.pose');
  },
  update(values: Readonly<Record<string, number>>): void {
    const { session, frame } = useBench.getState();
    const { pass } = session.selection;
    bench.updateGesture(pass === null ? { pose: { name: 'Posed', values }, frame } : { pass, values, frame });
  },
  end(label: string): void {
    bench.commitGesture(label);
  },
};
