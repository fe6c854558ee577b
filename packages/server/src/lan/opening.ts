import type { NetworkOpening } from '@kivram/contract/views/people';
import type { Express } from 'express';
import { createServer, type Server } from 'node:https';
import type { AddressInfo, Socket } from 'node:net';
import { networkInterfaces } from 'node:os';
import type { Logger } from 'pino';
import { keepAliveMs } from '../http/keepAlive';
import { certificateFor, isPrivate, type Certificate } from './certificate';

/** How often it is looked whether this computer has another address now: a laptop moves from network to network, ms. */
const lookMs = 15_000;

/** Who has opened a line and not shaken hands in this time is gone, ms; Node itself waits two minutes. */
const handshakeMs = 20_000;

/**
 * So many lines one device may have open; a browser opens six. More are cut off before anything is read of them: a line is kept for a minute, and who holds thousands
 * would leave none for others.
 */
export const mostLinesOfOne = 200;

/** The door to the local network, opened by choice only: HTTPS on every private address that this computer has. */
export class Opening {
  private server: Server | undefined;
  private looking: NodeJS.Timeout | undefined;

  private constructor(
    private readonly folder: string,
    private readonly wantedPort: number,
    private readonly log: Logger,
    private addresses: readonly string[],
    private certificate: Certificate,
  ) {}

  /** @param folder where keys lie; a folder of its own @param port 0: any free one */
  static async prepare(folder: string, port: number, log: Logger): Promise<Opening> {
    const addresses = privateAddresses();
    return new Opening(folder, port, log, addresses, await certificateFor(addresses, folder));
  }

  async listen(app: Express): Promise<void> {
    const { chain, key } = this.certificate;
    const options = { cert: chain, key, minVersion: 'TLSv1.2', handshakeTimeout: handshakeMs } as const;
    const server = createServer({ ...options, keepAliveTimeout: keepAliveMs }, app);
    this.server = server;
    limitLines(server);
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(this.wantedPort, '0.0.0.0', resolve);
    });
    this.looking = setInterval(() => {
      this.look().catch((error: unknown) => this.log.error({ err: error }, 'no certificate for the new address'));
    }, lookMs);
    this.looking.unref();
  }

  /** Whether a request's host is this computer: another name that leads here is a trick. */
  isHost(host: string): boolean {
    return this.addresses.some((address) => host === `${address}:${this.port}`);
  }

  get authority(): string {
    return this.certificate.authority.pem;
  }

  view(): NetworkOpening {
    return {
      addresses: this.addresses.map((address) => `https://${address}:${this.port}`),
      fingerprint: this.certificate.fingerprint,
      authorityFingerprint: this.certificate.authority.fingerprint,
    };
  }

  close(): void {
    clearInterval(this.looking);
    this.server?.closeAllConnections();
    this.server?.close();
  }

  private get port(): number {
    return (this.server?.address() as AddressInfo | null)?.port ?? this.wantedPort;
  }

  private async look(): Promise<void> {
    const addresses = privateAddresses();
    if (addresses.join() === this.addresses.join()) return;
    this.certificate = await certificateFor(addresses, this.folder);
    this.addresses = addresses;
    this.server?.setSecureContext({ cert: this.certificate.chain, key: this.certificate.key });
  }
}

function limitLines(server: Server): void {
  const lines = new Map<string, number>();
  server.on('connection', (line: Socket) => {
    const from = line.remoteAddress ?? '';
    const open = lines.get(from) ?? 0;
    if (open >= mostLinesOfOne) return void line.destroy();
    lines.set(from, open + 1);
    line.once('close', () => {
      const left = (lines.get(from) ?? 1) - 1;
      if (left) lines.set(from, left);
      else lines.delete(from);
    });
  });
}

/** The private IPv4 addresses of this computer; of no network but itself, where it is in none. */
function privateAddresses(): string[] {
  const all = Object.values(networkInterfaces()).flatMap((list) => list ?? []);
  const found = all.filter(({ family, internal, address }) => family === 'IPv4' && !internal && isPrivate(address));
  return found.length ? found.map(({ address }) => address).sort() : ['127.0.0.1'];
}
