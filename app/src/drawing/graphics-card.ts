/** Whether the browser draws with a graphics card. Without one, smooth edges in the stage and drawing at every event cost too much. */
export const HAS_GRAPHICS_CARD =
  typeof document !== 'undefined' &&
  document.createElement('canvas').getContext('webgl2', { failIfMajorPerformanceCaveat: true }) !== null;
