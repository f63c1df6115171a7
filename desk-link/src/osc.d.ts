/** The part of the `osc` package's codec that is used here; it ships no types of its own. */
declare module 'osc/src/osc.js' {
  interface Argument {
    type: string;
    value: unknown;
  }
  interface Message {
    address: string;
    args: Argument[];
  }
  interface Bundle {
    timeTag: { raw: [number, number] };
    packets: (Message | Bundle)[];
  }
  interface Options {
    metadata?: boolean;
    unpackSingleArgs?: boolean;
  }
  const osc: {
    readPacket(bytes: Uint8Array, options: Options): Message | Bundle;
    writePacket(packet: Message | Bundle, options: Options): Uint8Array;
  };
  export default osc;
}
