/** Names under which browsers draw 3D without a graphics card. */
const SOFTWARE = /swiftshader|llvmpipe|softpipe|software|basic render/i;

function drawsWithCard(): boolean {
  if (typeof document === 'undefined') return false;
  const context = document.createElement('canvas').getContext('webgl2');
  if (!context) return false;
  const names = context.getExtension('WEBGL_debug_renderer_info');
  const renderer: unknown = context.getParameter(names ? names.UNMASKED_RENDERER_WEBGL : context.RENDERER);
  // The context is given back at once: a page may have few of them.
  context.getExtension('WEBGL_lose_context')?.loseContext();
  return !SOFTWARE.test(String(renderer));
}

/** Whether the browser draws with a graphics card. Without one, smooth edges in the stage and a picture at every event cost too much. */
export const HAS_GRAPHICS_CARD = drawsWithCard();
