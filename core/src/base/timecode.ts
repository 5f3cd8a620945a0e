/** Hours, minutes, seconds and frames of a frame, counted without leaving any out (SMPTE ST 12-1, non-drop): at 23.976 frames a second 24 of them make a second. */
export function timecode(frame: number, framesPerSecond: number): string {
  const base = Math.max(1, Math.round(framesPerSecond));
  const whole = Math.round(Math.abs(frame));
  const parts = [
    Math.floor(whole / base / 3600),
    Math.floor(whole / base / 60) % 60,
    Math.floor(whole / base) % 60,
  ];
  const two = (value: number) => String(value).padStart(2, '0');
  return `${frame < -0.5 ? '-' : ''}${[...parts, whole % base].map(two).join(':')}`;
}
