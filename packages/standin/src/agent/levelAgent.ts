import snmp from 'net-snmp';
import { createSocket } from 'node:dgram';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';

/** What a stand-in radio tells by SNMP at one moment. */
export interface TellingRadio {
  rslDbm: number | null;
  chainsDbm: readonly number[];
  noiseDbm: number;
  txMbps: number;
  rxMbps: number;
}

/** By what one is let in: the community of versions 1 and 2c, or the user of version 3, who signs with SHA and encrypts with AES. */
export interface AgentAccess {
  community: string;
  userName: string;
  authPassword: string;
  privPassword: string;
}

/** Under the enterprise number that is kept free for documentation (RFC 5612, section 2). */
const branch = '1.3.6.1.4.1.32473.77';

/** What a radio that hears nothing tells as its level, dBm: a figure that no receiver reaches. */
const deafDbm = -128;

/** The values that a stand-in radio answers: a level in tenths of a decibel, as whole numbers are all that SNMP has. */
const scalars = [
  { name: 'level', oid: `${branch}.1`, type: snmp.ObjectType.Integer },
  { name: 'chain1', oid: `${branch}.2`, type: snmp.ObjectType.Integer },
  { name: 'chain2', oid: `${branch}.3`, type: snmp.ObjectType.Integer },
  { name: 'noise', oid: `${branch}.4`, type: snmp.ObjectType.Integer },
  { name: 'txRate', oid: `${branch}.5`, type: snmp.ObjectType.Gauge },
  { name: 'rxRate', oid: `${branch}.6`, type: snmp.ObjectType.Gauge },
  { name: 'words', oid: `${branch}.7`, type: snmp.ObjectType.OctetString },
] as const;

/** A stand-in radio's SNMP agent on a real UDP port of this computer. It measures anew in steps of its own, and answers what it measured last, however often it is asked. */
export class LevelAgent {
  private constructor(
    readonly port: number,
    private readonly stop: () => void,
  ) {}

  /** @param measure what the radio hears now @param everyMs how often it measures */
  static async start(
    measure: () => Promise<TellingRadio>,
    access: AgentAccess,
    { everyMs = 250, port = 0 } = {},
  ): Promise<LevelAgent> {
    const free = port || (await freePort());
    const agent = snmp.createAgent(
      { port: free, address: '127.0.0.1', accessControlModelType: snmp.AccessControlModelType.None },
      // What comes from nobody it knows it leaves without an answer.
      () => undefined,
    ) as Agent;
    const authorizer = agent.getAuthorizer();
    authorizer.addCommunity(access.community);
    authorizer.addUser({
      name: access.userName,
      level: snmp.SecurityLevel.authPriv,
      authProtocol: snmp.AuthProtocols.sha,
      authKey: access.authPassword,
      privProtocol: snmp.PrivProtocols.aes,
      privKey: access.privPassword,
    });
    const mib = agent.getMib();
    for (const { name, oid, type } of scalars)
      mib.registerProvider({
        name,
        type: snmp.MibProviderType.Scalar,
        oid,
        scalarType: type,
        maxAccess: snmp.MaxAccess['read-only'],
      });
    const refresh = async (): Promise<void> => {
      const { rslDbm, chainsDbm, noiseDbm, txMbps, rxMbps } = await measure();
      const tenths = (dbm: number | null | undefined): number => Math.round(10 * (dbm ?? deafDbm));
      mib.setScalarValue('level', tenths(rslDbm));
      mib.setScalarValue('chain1', tenths(chainsDbm[0]));
      mib.setScalarValue('chain2', tenths(chainsDbm[1]));
      mib.setScalarValue('noise', tenths(noiseDbm));
      mib.setScalarValue('txRate', Math.round(1000 * txMbps));
      mib.setScalarValue('rxRate', Math.round(1000 * rxMbps));
      mib.setScalarValue('words', rslDbm === null ? 'no link' : `hears ${rslDbm.toFixed(1)} dBm`);
    };
    await refresh();
    const timer = setInterval(() => void refresh().catch(() => undefined), everyMs);
    timer.unref();
    return new LevelAgent(free, () => {
      clearInterval(timer);
      agent.close();
    });
  }

  close(): void {
    this.stop();
  }
}

/** The part of the library's agent that is used: its types know it as anything. */
interface Agent {
  getAuthorizer(): { addCommunity(name: string): void; addUser(user: object): void };
  getMib(): { registerProvider(provider: object): void; setScalarValue(name: string, value: unknown): void };
  close(): void;
}

async function freePort(): Promise<number> {
  const socket = createSocket('udp4');
  socket.bind(0, '127.0.0.1');
  await once(socket, 'listening');
  const { port } = socket.address() as AddressInfo;
  socket.close();
  await once(socket, 'close');
  return port;
}
