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

/** The door to the local network, opened by choice only: HTTPS on every private address that this computer has, and on no other; it follows them when the network changes. */
export class Opening {
  /** by the address that each listens on */
  private readonly servers = new Map<string, Server>();
  private readonly lines = new Map<string, number>();
  private app: Express | undefined;
  private looking: NodeJS.Timeout | undefined;

  private constructor(
    private readonly folder: string,
    private port: number,
    private readonly log: Logger,
    private readonly addressesNow: () => string[],
    private certificate: Certificate,
  ) {}

  /** @param folder where keys lie; a folder of its own @param port 0: any free one @param addressesNow the private addresses of this computer */
  static async prepare(
    folder: string,
    port: number,
    log: Logger,
    addressesNow: () => string[] = privateAddresses,
  ): Promise<Opening> {
    return new Opening(folder, port, log, addressesNow, await certificateFor(addressesNow(), folder));
  }

  async listen(app: Express): Promise<void> {
    this.app = app;
    for (const address of this.addressesNow()) await this.listenOn(address);
    this.looking = setInterval(() => {
      this.look().catch((error: unknown) => this.log.error({ err: error }, 'the door does not follow the network'));
    }, lookMs);
    this.looking.unref();
  }

  /** Follows the addresses that this computer has now. */
  async look(): Promise<void> {
    const wanted = this.addressesNow();
    if (wanted.join() === this.addresses.join()) return;
    for (const [address, server] of this.servers) if (!wanted.includes(address)) this.leave(address, server);
    this.certificate = await certificateFor(wanted, this.folder);
    const { chain, key } = this.certificate;
    for (const server of this.servers.values()) server.setSecureContext({ cert: chain, key });
    // One that cannot be had yet is tried again when it is next looked.
    for (const address of wanted.filter((one) => !this.servers.has(one)))
      await this.listenOn(address).catch((error: unknown) =>
        this.log.warn({ err: error, address }, 'the door does not open there yet'),
      );
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
    for (const [address, server] of this.servers) this.leave(address, server);
  }

  /** Where it is open now. */
  private get addresses(): string[] {
    return [...this.servers.keys()].sort();
  }

  private async listenOn(address: string): Promise<void> {
    const { chain, key } = this.certificate;
    const options = { cert: chain, key, minVersion: 'TLSv1.2', handshakeTimeout: handshakeMs } as const;
    const server = createServer({ ...options, keepAliveTimeout: keepAliveMs }, this.app);
    limitLines(server, this.lines);
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(this.port, address, resolve);
    });
    server.on('error', (error) => this.log.error({ err: error, address }, 'the door to the network'));
    this.port = (server.address() as AddressInfo).port;
    this.servers.set(address, server);
  }

  private leave(address: string, server: Server): void {
    this.servers.delete(address);
    server.closeAllConnections();
    server.close();
  }
}

/** @param lines how many each device has open, on all addresses together */
function limitLines(server: Server, lines: Map<string, number>): void {
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
