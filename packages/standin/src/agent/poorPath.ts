import { createSocket, type Socket } from 'node:dgram';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { Random } from '../random';

/** What happens to packets on their way. */
export interface PathSetup {
  /** so many are lost, each way */
  lossShare: number;
  /** each way, on average; each packet takes from half to one and a half of it */
  delayMs: number;
  seed: number;
}

/** A UDP path on this computer that loses packets and takes its time, before a port that does neither. */
export class PoorPath {
  private readonly back = new Map<string, Socket>();

  private constructor(
    readonly port: number,
    private readonly front: Socket,
    private readonly toPort: number,
    private readonly setup: PathSetup,
    private readonly random: Random,
  ) {}

  static async to(port: number, setup: PathSetup): Promise<PoorPath> {
    const front = createSocket('udp4');
    front.bind(0, '127.0.0.1');
    await once(front, 'listening');
    const path = new PoorPath((front.address() as AddressInfo).port, front, port, setup, new Random(setup.seed));
    front.on('message', (packet, from) => {
      const back = path.backOf(from.port);
      path.later(() => back.send(packet, path.toPort, '127.0.0.1'));
    });
    return path;
  }

  close(): void {
    for (const socket of [this.front, ...this.back.values()]) socket.close();
    this.back.clear();
  }

  /** Each asker gets a socket of its own, so that answers find back. */
  private backOf(askerPort: number): Socket {
    const key = String(askerPort);
    const known = this.back.get(key);
    if (known) return known;
    const socket = createSocket('udp4');
    socket.on('message', (packet) => this.later(() => this.front.send(packet, askerPort, '127.0.0.1')));
    socket.on('error', () => undefined);
    this.back.set(key, socket);
    return socket;
  }

  private later(send: () => void): void {
    if (this.random.chance(this.setup.lossShare)) return;
    setTimeout(
      () => {
        // Who closes the path loses what is on it.
        if (this.back.size) send();
      },
      this.setup.delayMs * this.random.between(0.5, 1.5),
    ).unref();
  }
}
