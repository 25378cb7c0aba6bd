/**
 * What every place that core runs in has beside the language: WebAssembly (W3C) and text encoding (WHATWG). Nothing else is declared,
 * so that core cannot come to need a page or Node.
 */
declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
}
declare class TextDecoder {
  decode(bytes: Uint8Array): string;
}
declare function atob(base64: string): string;

declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>);
  }
  class Instance {
    constructor(module: Module, imports?: Record<string, Record<string, unknown>>);
    readonly exports: Record<string, unknown>;
  }
  class Memory {
    constructor(size: { initial: number; maximum?: number });
    readonly buffer: ArrayBuffer;
    grow(pages: number): number;
  }
}
