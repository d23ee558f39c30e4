import { WebGLRenderer, type WebGLRendererParameters } from 'three';

/** What browsers call a processor that stands in for a graphics card. */
const standIns = /swiftshader|llvmpipe|softpipe|basic render|software/i;

let byProcessor: boolean | null = null;

/** Is there no graphics card that draws? Asked once. */
function isDrawnByProcessor(): boolean {
  if (byProcessor === null) {
    const gl = document.createElement('canvas').getContext('webgl2');
    const names = gl?.getExtension('WEBGL_debug_renderer_info');
    byProcessor = gl ? standIns.test(String(gl.getParameter(names?.UNMASKED_RENDERER_WEBGL ?? gl.RENDERER))) : false;
    gl?.getExtension('WEBGL_lose_context')?.loseContext();
  }
  return byProcessor;
}

/**
 * The renderer of a canvas. Where the processor draws, edges are not smoothed: pictures take three fifths of the time then.
 *
 * @throws Error where the browser draws nothing in space at all
 */
export const rendererOn = (parameters: WebGLRendererParameters): WebGLRenderer =>
  new WebGLRenderer({ ...parameters, antialias: !isDrawnByProcessor() });
