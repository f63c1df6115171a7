/** The part of the `slip` package that is used here; it ships no types of its own. */
declare module 'slip' {
  interface DecoderOptions {
    maxMessageSize: number;
    onMessage: (packet: Uint8Array) => void;
    onError: (bytes: Uint8Array, why: string) => void;
  }
  const slip: {
    encode(packet: Uint8Array): Uint8Array;
    Decoder: new (options: DecoderOptions) => { decode(bytes: Uint8Array): void };
  };
  export default slip;
}
