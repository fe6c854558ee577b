import { createSocket, type Socket } from 'node:dgram';
import { connect, createServer } from 'node:net';

/** iperf3 opens a UDP stream by words of four bytes each way; what carries data is longer. */
const longestGreeting = 16;

/** A relay between a client of iperf3 and its server on this computer that loses datagrams: none, a share, or all that carry data. */
export interface UdpRelay {
  port: number;
  close(): void;
}

/**
 * Passes everything on to a port, but for datagrams with data.
 * @param loseShare of them, 0 to 1, each way: every so many-th, so that two runs lose the same
 */
export async function relayTo(port: number, loseShare: { there: number; back: number }): Promise<UdpRelay> {
  const due = { there: 0, back: 0 };
  const isLost = (way: 'there' | 'back', datagram: Buffer): boolean => {
    if (datagram.length <= longestGreeting) return false;
    due[way] += loseShare[way];
    if (due[way] < 1) return false;
    due[way] -= 1;
    return true;
  };
  const calls = createServer((client) => {
    const server = connect(port, '127.0.0.1');
    client.pipe(server).pipe(client);
    for (const socket of [client, server]) socket.on('error', () => [client, server].forEach((s) => s.destroy()));
  });
  await new Promise<void>((resolve) => calls.listen(0, '127.0.0.1', resolve));
  const own = (calls.address() as { port: number }).port;
  const front = createSocket('udp4');
  const behind = new Map<number, Socket>();
  front.on('message', (datagram, from) => {
    let to = behind.get(from.port);
    if (!to) {
      behind.set(from.port, (to = createSocket('udp4')));
      to.on('message', (answer) => isLost('back', answer) || front.send(answer, from.port, '127.0.0.1'));
    }
    if (!isLost('there', datagram)) to.send(datagram, port, '127.0.0.1');
  });
  await new Promise<void>((resolve) => front.bind(own, '127.0.0.1', resolve));
  return {
    port: own,
    close: () => {
      calls.close();
      front.close();
      for (const socket of behind.values()) socket.close();
    },
  };
}
