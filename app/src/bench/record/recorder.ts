/**
 * A recording: counted in, then the play-head goes by a clock of its own while a source is listened to. Samples are taken at the shot's rate out of what
 * was heard, with the times at which it was made; a picture that is dropped drops none. It is one gesture: one step of the history, or none.
 */
import { create } from 'zustand';
import { evenTimes, framesPerSecond, Take } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import type { Source } from './source.ts';

export interface RecorderState {
  readonly phase: 'idle' | 'counting' | 'recording';
  /** Whole seconds until it begins. */
  readonly left: number;
  /** By how much the last input came late, ms; null before the first. */
  readonly latency: number | null;
  /** What is to be said of the last recording. */
  readonly remarks: readonly string[];
}

const IDLE = { phase: 'idle', left: 0, latency: null, remarks: [] } as const satisfies RecorderState;
export const useRecorder = create<RecorderState>()(() => IDLE);

export interface Recording {
  readonly source: Source;
  /** The first frame, and the last. */
  readonly start: number;
  readonly end: number;
  /** Seconds. */
  readonly countIn: number;
  /** The replace pass that is recorded over; null for a new one. */
  readonly onto: string | null;
  readonly name: string;
}

/** What was made in time may still be on its way when the last frame has passed, ms. */
const LATE_MS = 150;

/** Says how it stands, where that is another thing than before. */
function tell(now: Pick<RecorderState, 'phase' | 'left' | 'latency'>): void {
  const was = useRecorder.getState();
  if (was.phase !== now.phase || was.left !== now.left || was.latency !== now.latency)
    useRecorder.setState(now);
}

let stopNow: ((keep: boolean) => void) | null = null;

/** Ends what is recorded, as far as it has come. */
export const stopRecording = (): void => stopNow?.(true);

export function record({ source, start, end, countIn, onto, name }: Recording): void {
  stopNow?.(false);
  const { session, speed } = useBench.getState();
  const { shot } = session;
  const perFrame = 1000 / (framesPerSecond(shot.rate) * speed);
  const zero = performance.now() + countIn * 1000;
  const take = new Take();
  const count = end - start + 1;
  let request = 0;
  let isOver = false;
  const remarks: string[] = [];
  // Told with the next picture: a feed says it more often than anybody can read it.
  let latency: number | null = null;

  const update = (frames: number) => {
    const times = evenTimes(zero, perFrame, frames);
    const values = source.values(take, times, shot, start);
    if (Object.keys(values).length > 0) bench.updateGesture({ name, start, values, onto });
  };
  const leave = (keep: boolean, frames: number) => {
    if (isOver) return;
    isOver = true;
    stopNow = null;
    cancelAnimationFrame(request);
    const finish = () => {
      stopListening();
      const driven = take.traces.size > 0;
      if (keep && driven && frames > 0) update(frames);
      if (keep && driven && frames > 0) bench.commitGesture('Record');
      else bench.cancelGesture();
      // Looked at from its beginning, or recorded over again.
      bench.goToFrame(start);
      if (keep && !driven) remarks.push('Nothing was recorded: no control was driven.');
      useRecorder.setState({ ...IDLE, remarks: [...remarks, ...source.remarks()] });
    };
    if (keep) window.setTimeout(finish, LATE_MS);
    else finish();
  };
  /** Frames that have begun. */
  const passed = (now: number) => Math.min(Math.max(Math.floor((now - zero) / perFrame) + 1, 0), count);
  const stopListening = source.listen({
    push: (time, values) => take.push({ time, values }),
    late: (ms) => (latency = Math.round(ms)),
    ended: (sentence) => {
      remarks.push(sentence);
      const last = Math.max(...[...take.traces.values()].map((trace) => trace.end), -Infinity);
      leave(true, passed(Math.min(last, performance.now())));
    },
  });
  stopNow = (keep) => leave(keep, passed(performance.now()));
  const tick = (now: number) => {
    // Escape takes the gesture back: nothing of it stays.
    if (!useBench.getState().gesture) return leave(false, 0);
    const frames = passed(now);
    if (frames === 0) {
      tell({ phase: 'counting', left: Math.ceil((zero - now) / 1000), latency });
    } else {
      tell({ phase: 'recording', left: 0, latency });
      bench.playFrame(start + frames - 1);
      update(frames);
      if (frames >= count && now - zero >= (count - 1) * perFrame) return leave(true, count);
    }
    request = requestAnimationFrame(tick);
  };
  bench.goToFrame(start);
  bench.beginGesture('actions.record');
  useRecorder.setState({ ...IDLE, phase: 'counting', left: countIn });
  request = requestAnimationFrame(tick);
}
