import type { LevelProfileBody, ProfileValue, SnmpAccess } from '@kivram/contract/requests/level';
import type { DeviceAnswer, DeviceValue } from '@kivram/contract/views/level';
import snmp from 'net-snmp';
import type { SourceSecrets } from '../../database/models/levelSource';
import { answerMs, DeviceError, exploreMs, mostValues, type LevelDevice, type ToldLevel } from './device';
import { numberIn, toldBy } from './profileValues';
import { addressOf } from './whereabouts';

/** Values that come with one answer of a walk: few enough for one packet. */
const valuesAtOnce = 20;
const longestText = 200;

type Values = Pick<LevelProfileBody, 'level' | 'chains' | 'noise' | 'txRate' | 'rxRate'>;

interface Setting {
  access: Omit<SnmpAccess, 'community' | 'authPassword' | 'privPassword'>;
  secrets: SourceSecrets;
  outsideAddress?: string;
  /** hardware address of the radio that is heard; null where it is not known */
  peerMac: string | null;
}

/** A radio that answers by SNMP: versions 1 (RFC 1157), 2c (RFC 3416) and 3 (RFC 3414). */
export class SnmpDevice implements LevelDevice {
  private session: Promise<snmp.Session> | null = null;
  private readonly values: Values;
  private readonly oids: string[];

  /** @throws DeviceError where the profile asks for what is not known */
  constructor(
    private readonly setting: Setting,
    profile: Values,
  ) {
    const placed = <V extends ProfileValue | null>(value: V): V =>
      value && ({ ...value, where: oidFor(value.where, setting.peerMac) } as V);
    this.values = {
      level: placed(profile.level),
      chains: profile.chains.map(placed),
      noise: placed(profile.noise),
      txRate: placed(profile.txRate),
      rxRate: placed(profile.rxRate),
    };
    const { level, chains, noise, txRate, rxRate } = this.values;
    this.oids = [level, ...chains, noise, txRate, rxRate].flatMap((value) => (value ? [value.where] : []));
  }

  async ask(): Promise<ToldLevel> {
    const session = await this.open();
    const varbinds = await new Promise<snmp.Varbind[]>((resolve, reject) => {
      session.get(this.oids, (error: Error | null, found?: snmp.Varbind[]) =>
        error ? reject(this.told(error)) : resolve(found ?? []),
      );
    });
    const found = new Map(varbinds.filter((v) => !snmp.isVarbindError(v)).map((v) => [v.oid, v.value as unknown]));
    if (!found.size)
      throw new DeviceError(
        `${this.setting.access.host} answers, and has none of the values of this profile. Look through what it answers, and pick them.`,
      );
    return toldBy(this.values, (where) => found.get(where));
  }

  async explore(branch = '1.3.6.1'): Promise<DeviceAnswer> {
    const session = await this.open();
    const begun = performance.now();
    const values: DeviceValue[] = [];
    let isWhole = true;
    let tookMs = 0;
    await new Promise<void>((resolve, reject) => {
      session.subtree(
        branch.replace(/^\./, ''),
        valuesAtOnce,
        (varbinds: snmp.Varbind[]) => {
          tookMs ||= performance.now() - begun;
          for (const varbind of varbinds) if (!snmp.isVarbindError(varbind)) values.push(viewOf(varbind));
          isWhole = values.length < mostValues && performance.now() - begun < exploreMs;
          return !isWhole;
        },
        (error?: Error | null) => (error && !values.length ? reject(this.told(error)) : resolve()),
      );
    });
    return { values: values.slice(0, mostValues), isWhole, tookMs };
  }

  close(): void {
    void this.session?.then(
      (session) => session.close(),
      () => undefined,
    );
    this.session = null;
  }

  private open(): Promise<snmp.Session> {
    if (!this.session) {
      this.session = this.connect();
      // What could not be opened is tried again when it is next asked.
      this.session.catch(() => (this.session = null));
    }
    return this.session;
  }

  private async connect(): Promise<snmp.Session> {
    const { access, secrets, outsideAddress } = this.setting;
    const { address, family } = await addressOf(access.host, outsideAddress);
    const options = {
      port: access.port,
      retries: 0,
      timeout: answerMs,
      transport: family === 6 ? ('udp6' as const) : ('udp4' as const),
    };
    const session =
      access.version === '3'
        ? snmp.createV3Session(address, userOf(access, secrets), options)
        : snmp.createSession(address, needed(secrets.community, 'the community'), {
            ...options,
            version: access.version === '1' ? snmp.Version1 : snmp.Version2c,
          });
    // An error of the socket is told with the question that it fails.
    session.on('error', () => undefined);
    return session;
  }

  private told(error: Error): DeviceError {
    const { host, port, version } = this.setting.access;
    // The library's types do not know its class.
    if (error.name === 'RequestTimedOutError')
      return new DeviceError(
        `${host} does not answer by SNMP on port ${port}: is SNMP on in the radio, ${version === '3' ? 'and are user and passwords right' : 'and is the community right'}?`,
      );
    return new DeviceError(`${host} answers by SNMP with an error: ${error.message}`);
  }
}

function userOf(access: Setting['access'], secrets: SourceSecrets): snmp.User {
  const { authProtocol = 'none', privProtocol = 'none', userName } = access;
  const name = needed(userName, 'the user name');
  if (authProtocol === 'none') return { name, level: snmp.SecurityLevel.noAuthNoPriv };
  const auth = {
    name,
    authProtocol: snmp.AuthProtocols[authProtocol],
    authKey: longEnough(secrets.authPassword, 'the password for signing'),
  };
  if (privProtocol === 'none') return { ...auth, level: snmp.SecurityLevel.authNoPriv };
  const kind = privProtocol === 'aes256' ? 'aes256b' : privProtocol;
  return {
    ...auth,
    level: snmp.SecurityLevel.authPriv,
    privProtocol: snmp.PrivProtocols[kind],
    privKey: longEnough(secrets.privPassword, 'the password for encrypting'),
  };
}

function needed(text: string | undefined, what: string): string {
  if (text) return text;
  throw new DeviceError(`Type ${what} of the radio's SNMP.`);
}

/** RFC 3414, section 11.2: a password of a user has eight characters at least. */
function longEnough(text: string | undefined, what: string): string {
  if (needed(text, what).length >= 8) return text ?? '';
  throw new DeviceError(`${what} has fewer than 8 characters: SNMP version 3 takes none such.`.replace(/^t/, 'T'));
}

/** An object identifier with the hardware address of the other radio in it, as tables of stations have it: octet by octet. */
function oidFor(where: string, peerMac: string | null): string {
  const oid = where.replace(/^\./, '');
  if (!oid.includes('{mac}')) return checked(oid, where);
  if (!peerMac)
    throw new DeviceError(
      'This profile asks by the hardware address of the other radio: type that at "About this link" first.',
    );
  const octets = peerMac.split(/[:-]/).map((octet) => parseInt(octet, 16));
  return checked(oid.replace('{mac}', octets.join('.')), where);
}

function checked(oid: string, where: string): string {
  if (/^\d+(\.\d+)+$/.test(oid)) return oid;
  throw new DeviceError(`"${where}" is no object identifier: write figures and dots like 1.3.6.1.2.1.1.3.0.`);
}

function viewOf({ oid, type, value }: snmp.Varbind): DeviceValue {
  const isFloat = type === snmp.ObjectType.Opaque;
  const kind: ProfileValue['type'] = isFloat
    ? 'float'
    : Buffer.isBuffer(value) && Number.isNaN(Number(value.toString()))
      ? 'text'
      : 'number';
  const number = numberIn(value, kind);
  return { where: oid, text: wordsOf(value, isFloat ? number : null).slice(0, longestText), number, type: kind };
}

/** A value as people read it: text where it is text, octets where it is none. */
function wordsOf(value: unknown, float: number | null): string {
  if (float !== null) return String(float);
  if (!Buffer.isBuffer(value)) return String(value);
  const text = value.toString('utf8');
  return /^[\x20-\x7e\u00a0-\uffff]*$/.test(text) ? text : value.toString('hex').replace(/(..)(?=.)/g, '$1:');
}
