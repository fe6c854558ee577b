import { AsnConvert } from '@peculiar/asn1-schema';
import { GeneralName, GeneralSubtree, GeneralSubtrees, NameConstraints } from '@peculiar/asn1-x509';
import {
  BasicConstraintsExtension,
  ExtendedKeyUsage,
  ExtendedKeyUsageExtension,
  Extension,
  KeyUsageFlags,
  KeyUsagesExtension,
  PemConverter,
  SubjectAlternativeNameExtension,
  X509Certificate,
  X509CertificateGenerator,
} from '@peculiar/x509';
import { createHash, randomBytes, webcrypto } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { BlockList } from 'node:net';
import { join } from 'node:path';

const algorithm = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' };
const crypto = webcrypto as unknown as Crypto;
const dayMs = 86_400_000;
/** Phones take no certificate for longer than 398 days (CA/Browser Forum, Baseline Requirements 6.3.2; from memory). */
const certificateDays = 397;
const authorityDays = 3650;
/** One that ends sooner than this is made anew. */
const spareDays = 30;

/**
 * What the authority may vouch for: networks that nobody reaches from outside (RFC 1918; RFC 6598; RFC 3927). A phone that is told to trust it trusts it with nothing else.
 */
const privateNets = ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16', '100.64.0.0/10', '169.254.0.0/16', '127.0.0.0/8'];

const privateAddresses = new BlockList();
for (const net of privateNets) {
  const [address = '', prefix] = net.split('/');
  privateAddresses.addSubnet(address, Number(prefix), 'ipv4');
}

/** Whether an IPv4 address is one of a private network. */
export function isPrivate(address: string): boolean {
  return privateAddresses.check(address, 'ipv4');
}

export interface Certificate {
  /** PEM, the authority's behind it */
  chain: string;
  key: string;
  /** SHA-256 in pairs of digits, as browsers show it */
  fingerprint: string;
  authority: { pem: string; fingerprint: string };
}

/**
 * A certificate for these addresses, signed by an authority of this computer's own, which is made once and kept; both keys lie in the folder, for this user only. The authority is there so
 * that a phone can be told once to trust this computer, whatever address it has next time.
 * @param addresses private IPv4 addresses
 */
export async function certificateFor(addresses: readonly string[], folder: string): Promise<Certificate> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const authority = await authorityIn(folder);
  const keys = await makeKeys();
  const certificate = await X509CertificateGenerator.create(
    {
      serialNumber: randomBytes(16).toString('hex'),
      subject: 'CN=Kivram on this network',
      issuer: authority.certificate.subject,
      ...validFor(certificateDays),
      signingAlgorithm: algorithm,
      signingKey: authority.key,
      publicKey: keys.publicKey,
      extensions: [
        new BasicConstraintsExtension(false, undefined, true),
        new KeyUsagesExtension(KeyUsageFlags.digitalSignature, true),
        new ExtendedKeyUsageExtension([ExtendedKeyUsage.serverAuth]),
        new SubjectAlternativeNameExtension(addresses.map((value) => ({ type: 'ip' as const, value }))),
      ],
    },
    crypto,
  );
  const pem = authority.certificate.toString('pem');
  return {
    chain: `${certificate.toString('pem')}\n${pem}\n`,
    key: await pemOf(keys.privateKey),
    fingerprint: fingerprintOf(certificate),
    authority: { pem, fingerprint: fingerprintOf(authority.certificate) },
  };
}

interface Authority {
  certificate: X509Certificate;
  key: CryptoKey;
}

async function authorityIn(folder: string): Promise<Authority> {
  const [certificateFile, keyFile] = [join(folder, 'authority.crt'), join(folder, 'authority.key')];
  const kept = await readAuthority(certificateFile, keyFile);
  if (kept && kept.certificate.notAfter.getTime() > Date.now() + spareDays * dayMs) return kept;
  const keys = await makeKeys();
  const certificate = await X509CertificateGenerator.createSelfSigned(
    {
      serialNumber: randomBytes(16).toString('hex'),
      name: 'CN=Kivram of this computer',
      ...validFor(authorityDays),
      signingAlgorithm: algorithm,
      keys,
      extensions: [
        new BasicConstraintsExtension(true, 0, true),
        new KeyUsagesExtension(KeyUsageFlags.keyCertSign, true),
        privateOnly(),
      ],
    },
    crypto,
  );
  await writeFile(keyFile, await pemOf(keys.privateKey), { mode: 0o600 });
  await writeFile(certificateFile, certificate.toString('pem'), { mode: 0o600 });
  return { certificate, key: keys.privateKey };
}

async function readAuthority(certificateFile: string, keyFile: string): Promise<Authority | null> {
  try {
    const der = PemConverter.decodeFirst(await readFile(keyFile, 'utf8'));
    const key = await crypto.subtle.importKey('pkcs8', der, algorithm, true, ['sign']);
    return { certificate: new X509Certificate(await readFile(certificateFile, 'utf8')), key };
  } catch {
    return null; // none yet, or what is no key: another is made
  }
}

/** Name constraints (RFC 5280, 4.2.1.10): private addresses, and no name of the internet, for the one permitted is none (RFC 2606). */
function privateOnly(): Extension {
  const names = [
    ...privateNets.map((iPAddress) => new GeneralName({ iPAddress })),
    new GeneralName({ dNSName: 'kivram.invalid' }),
  ];
  const constraints = new NameConstraints({
    permittedSubtrees: new GeneralSubtrees(names.map((base) => new GeneralSubtree({ base }))),
  });
  return new Extension('2.5.29.30', true, AsnConvert.serialize(constraints));
}

function makeKeys(): Promise<CryptoKeyPair> {
  return crypto.subtle.generateKey(algorithm, true, ['sign', 'verify']);
}

async function pemOf(key: CryptoKey): Promise<string> {
  return PemConverter.encode(await crypto.subtle.exportKey('pkcs8', key), 'PRIVATE KEY');
}

/** From a day ago, for clocks of phones go wrong. */
function validFor(days: number): { notBefore: Date; notAfter: Date } {
  return { notBefore: new Date(Date.now() - dayMs), notAfter: new Date(Date.now() + days * dayMs) };
}

function fingerprintOf({ rawData }: X509Certificate): string {
  const digits = createHash('sha256').update(Buffer.from(rawData)).digest('hex').toUpperCase();
  return (digits.match(/../g) ?? []).join(':');
}
