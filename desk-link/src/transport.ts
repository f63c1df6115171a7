/** The way to one desk: packets there, and packets of nobody else back. Looks for a way as long as it is not closed. */
export interface Transport {
  /** Whether there is a way: for datagrams an address, else a connection. */
  readonly ready: boolean;
  /** Sends a packet, or drops it while there is no way. */
  send(packet: Uint8Array): void;
  /** Tries to make a way where there is none. */
  connect(): void;
  close(): Promise<void>;
}

export interface TransportEvents {
  /** There is a way now. */
  readonly onReady: () => void;
  readonly onPacket: (packet: Uint8Array) => void;
}

export interface DeskPlace {
  readonly host: string;
  readonly port: number;
}
