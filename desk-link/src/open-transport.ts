import { TcpTransport } from './tcp-transport';
import type { DeskPlace, Transport, TransportEvents } from './transport';
import { UdpTransport } from './udp-transport';
import { WireLog } from './wire-log';

/** @param log where every packet that goes and comes is kept */
export function openTransport(
  kind: 'udp' | 'tcp',
  place: DeskPlace,
  { onReady, onPacket }: TransportEvents,
  log = new WireLog(),
): Transport {
  const events = {
    onReady,
    onPacket: (packet: Uint8Array) => {
      log.add('from the desk', packet);
      onPacket(packet);
    },
  };
  const transport = kind === 'tcp' ? new TcpTransport(place, events) : new UdpTransport(place, events);
  return {
    get ready() {
      return transport.ready;
    },
    send: (packet) => {
      if (transport.ready) log.add('to the desk', packet);
      transport.send(packet);
    },
    connect: () => transport.connect(),
    close: () => transport.close(),
  };
}
