/** Packages that are used as a second opinion in tests and bring no types. */
declare module 'cubic-spline' {
  export default class Spline {
    constructor(xs: readonly number[], ys: readonly number[]);
    at(x: number): number;
  }
}
declare module 'gltf-validator' {
  export function validateBytes(
    bytes: Uint8Array,
    options?: { readonly maxIssues?: number },
  ): Promise<{
    issues: {
      numErrors: number;
      messages: readonly { code: string; message: string; severity: number; pointer?: string }[];
    };
  }>;
}
declare module 'bezier-js' {
  interface Spot {
    readonly x: number;
    readonly y: number;
  }
  export class Bezier {
    constructor(...numbers: readonly number[]);
    readonly points: readonly Spot[];
    get(u: number): Spot;
    split(u: number): { left: Bezier; right: Bezier };
  }
}
