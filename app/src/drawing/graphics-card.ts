/** Names under which browsers draw 3D without a graphics card. */
const SOFTWARE = /swiftshader|llvmpipe|softpipe|software|basic render/i;

interface Drawing {
  /** Whether it draws in three dimensions at all. */
  readonly solid: boolean;
  readonly card: boolean;
}

function drawnBy(): Drawing {
  if (typeof document === 'undefined') return { solid: false, card: false };
  const context = document.createElement('canvas').getContext('webgl2');
  if (!context) return { solid: false, card: false };
  const names = context.getExtension('WEBGL_debug_renderer_info');
  const renderer: unknown = context.getParameter(names ? names.UNMASKED_RENDERER_WEBGL : context.RENDERER);
  // The context is given back at once: a page may have few of them.
  context.getExtension('WEBGL_lose_context')?.loseContext();
  return { solid: true, card: !SOFTWARE.test(String(renderer)) };
}

/** Whether the browser draws with a graphics card. Without one, smooth edges in the stage and a picture at every event cost too much. */
export const { solid: DRAWS_SOLID, card: HAS_GRAPHICS_CARD } = drawnBy();
