/** The one time axis of all lanes: which frames are shown, and where they lie in pixels. */
export interface TimeAxis {
  /** The frames at the left and the right edge. */
  readonly from: number;
  readonly to: number;
  /** Pixels. */
  readonly width: number;
}

export function frameToX(axis: TimeAxis, frame: number): number {
  return ((frame - axis.from) / (axis.to - axis.from)) * axis.width;
}

export function xToFrame(axis: TimeAxis, x: number): number {
  return axis.from + (x / axis.width) * (axis.to - axis.from);
}

/** The axis zoomed by a factor about a pixel: the frame under it stays under it. */
export function zoomed(axis: TimeAxis, x: number, factor: number): { from: number; to: number } {
  const at = xToFrame(axis, x);
  return { from: at - (at - axis.from) * factor, to: at + (axis.to - at) * factor };
}

/** Frames between labels: 1, 2, 5, 10 … so that labels are at least `apart` pixels from each other. */
export function labelStep(axis: TimeAxis, apart: number): number {
  return niceStep(((axis.to - axis.from) / axis.width) * apart, 1);
}

/** The smallest of 1, 2, 5 × 10ⁿ that is at least `least`. */
export function niceStep(least: number, smallest = 0): number {
  const base = 10 ** Math.floor(Math.log10(Math.max(least, 1e-12)));
  const step = [1, 2, 5, 10].map((times) => times * base).find((times) => times >= least * (1 - 1e-9))!;
  return Math.max(step, smallest);
}
