/** Room for samples that every thread can read. */
export const allocateShared = (count: number): Float32Array =>
  new Float32Array(new SharedArrayBuffer(count * Float32Array.BYTES_PER_ELEMENT));
