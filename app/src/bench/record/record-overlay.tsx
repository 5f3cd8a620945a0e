import { useRecorder } from './recorder.ts';

/** The count-in over the stage, and that it records. */
export function RecordOverlay() {
  const phase = useRecorder((state) => state.phase);
  const left = useRecorder((state) => state.left);
  if (phase === 'idle') return null;
  return (
    <p className={`record-overlay ${phase}`} role="status">
      {phase === 'counting' ? left : 'recording'}
    </p>
  );
}
