import { type AddressInfo, connect, createServer, type Server, type Socket } from 'node:net';

/** A door on the way to the database that can be shut and opened again. */
export class Gate {
  port = 0;
  private shut = false;
  private readonly sockets = new Set<Socket>();
  private readonly server: Server;

  private constructor(to: number) {
    this.server = createServer((from) => {
      if (this.shut) return void from.destroy();
      const onwards = connect(to, '127.0.0.1');
      for (const [one, other] of [
        [from, onwards],
        [onwards, from],
      ] as const) {
        this.sockets.add(one);
        one
          .on('error', () => one.destroy())
          .on('close', () => {
            this.sockets.delete(one);
            other.destroy();
          });
        one.pipe(other);
      }
    });
  }

  static async open(to: number): Promise<Gate> {
    const gate = new Gate(to);
    await new Promise<void>((resolve) => gate.server.listen(0, '127.0.0.1', resolve));
    gate.port = (gate.server.address() as AddressInfo).port;
    return gate;
  }

  /** Cuts whoever is on the way, and lets nobody through until {@link reopen}. */
  cut(): void {
    this.shut = true;
    for (const socket of this.sockets) socket.destroy();
  }

  reopen(): void {
    this.shut = false;
  }

  async close(): Promise<void> {
    this.cut();
    await new Promise((resolve) => this.server.close(resolve));
  }
}
