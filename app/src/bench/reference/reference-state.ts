/** The reference of the shot on the bench: loaded with it, stored when it changes. */
import { create } from 'zustand';
import { framesPerSecond } from '@kneader/core';
import { dropReference, keepReference, loadReference, referencePlace } from '../../store/references.ts';
import type { Reference, ReferencePlace } from '../../store/references.ts';
import { storageProblem } from '../../store/storage.ts';
import { useBench } from '../bench-store.ts';
import type { Footage } from './footage.ts';

interface ReferenceState {
  /** Whose it is. */
  readonly shot: string;
  readonly reference: Reference | null;
  readonly footage: Footage | null;
  readonly problem: string | null;
  /** Whether its place is open though there is none yet. */
  readonly isOpen: boolean;
}

const NOTHING: ReferenceState = { shot: '', reference: null, footage: null, problem: null, isOpen: false };
export const useReference = create<ReferenceState>()(() => NOTHING);
const { getState: get, setState: set } = useReference;

const rateOf = () => framesPerSecond(useBench.getState().session.shot.rate);
/** The reader of films comes when there is one. */
const footageOf = () => import('./footage.ts');
const words = (error: unknown) => (error instanceof Error ? error.message : String(error));

/** Looks up what lies beside a shot; what lay beside another is let go. */
export async function openReference(shot: string): Promise<void> {
  closeReference();
  set({ ...NOTHING, shot });
  const reference = await loadReference(shot).catch(() => null);
  if (!reference || get().shot !== shot) return;
  set({ reference });
  await show(shot, reference);
}

async function show(shot: string, reference: Reference): Promise<void> {
  try {
    const { openFootage } = await footageOf();
    const footage = await openFootage(reference.files, rateOf());
    if (get().shot === shot && get().reference?.files === reference.files) set({ footage, problem: null });
    else footage.close();
  } catch (error) {
    if (get().shot === shot) set({ problem: words(error) });
  }
}

export function closeReference(): void {
  get().footage?.close();
  set(NOTHING);
}

/** Takes a film, or numbered pictures; nothing changes where they cannot be read. */
export async function takeReference(files: readonly File[]): Promise<void> {
  const { shot, footage: before } = get();
  const { inOrder, openFootage } = await footageOf();
  const pictures = inOrder(files.filter(({ type }) => type.startsWith('image/')));
  const chosen = pictures.length > 0 ? pictures : files.slice(0, 1);
  if (chosen.length === 0) return;
  try {
    const footage = await openFootage(chosen, rateOf());
    const { start } = useBench.getState().session.shot.range;
    const name = chosen.length > 1 ? `${chosen[0]!.name} and ${chosen.length - 1} more` : chosen[0]!.name;
    const reference: Reference = { name, files: [...chosen], place: referencePlace.parse({ offset: start }) };
    before?.close();
    set({ reference, footage, problem: null });
    await store(shot, reference);
  } catch (error) {
    set({ problem: words(error) });
  }
}

const NOT_KEPT = 'The film is not kept for the next time:';

/** What cannot be stored stays beside the shot for as long as the page is open, which is said. */
async function store(shot: string, reference: Reference): Promise<void> {
  try {
    await keepReference(shot, reference);
    if (get().problem?.startsWith(NOT_KEPT)) set({ problem: null });
  } catch (error) {
    set({ problem: `${NOT_KEPT} ${storageProblem(error)}` });
  }
}

export function placeReference(change: Partial<ReferencePlace>): void {
  const { shot, reference } = get();
  if (!reference) return;
  const next = { ...reference, place: { ...reference.place, ...change } };
  set({ reference: next });
  void store(shot, next);
}

/** Shows the place for a film, or hides it and the film in it. */
export function toggleReference(): void {
  const { reference, isOpen } = get();
  if (reference) placeReference({ isShown: !reference.place.isShown });
  else set({ isOpen: !isOpen });
}

export function hideReference(): void {
  set({ isOpen: false });
  placeReference({ isShown: false });
}

export async function removeReference(): Promise<void> {
  const { shot, footage } = get();
  footage?.close();
  // Its place stays for the next one.
  set({ reference: null, footage: null, problem: null, isOpen: true });
  await dropReference(shot);
}
