/** What every kernel exports besides its functions. */
export interface KernelExports {
  memory: WebAssembly.Memory;
  /** First address that is free for the caller. */
  heap(): number;
}

const PAGE = 65536;
/** Bytes that may be read past the end of any buffer in a kernel. */
export const PAD = 64;

/** An address rounded up so that vectors lie well. */
export const aligned = (address: number): number => (address + 63) & ~63;

/**
 * Makes a kernel from the bytes of its module. It is compiled on the spot, which only threads without a page may do;
 * throws where the machine has no vectors (SIMD) in WebAssembly.
 * @param memory for kernels that work on memory of the caller's
 */
export function loadKernel<E>(base64: string, memory?: WebAssembly.Memory): E {
  const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
  return new WebAssembly.Instance(new WebAssembly.Module(bytes), {
    env: {
      ...(memory ? { memory } : {}),
      abort: () => {
        throw new Error('A kernel was given something impossible.');
      },
    },
  }).exports as unknown as E;
}

/** A kernel's memory as bytes, at least up to `end`. It moves when it grows: views must be taken anew after every call. */
export function memoryUpTo({ memory }: KernelExports, end: number): Uint8Array {
  const missing = end - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
  return new Uint8Array(memory.buffer);
}
