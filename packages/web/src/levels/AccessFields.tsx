import { snmpAuthProtocols, snmpPrivProtocols, snmpVersions } from '@kivram/contract/requests/level';
import type { LevelSourceView, SourceSecret } from '@kivram/contract/views/level';
import { Checkbox, PasswordInput, Select, TextInput } from '@mantine/core';
import type { ReactNode } from 'react';
import { CommandFields } from './CommandFields';
import { NumberField } from '../parts/NumberField';
import type { SourceDraft, TypedSecrets } from './sourceDraft';

interface Props {
  draft: SourceDraft;
  set(change: Partial<SourceDraft>): void;
  secrets: TypedSecrets;
  setSecret(name: SourceSecret, value: string): void;
  /** what is stored of this end */
  stored: LevelSourceView;
  /** whether this page is open on the computer that Kivram runs on */
  isHere: boolean;
}

const authWords: Record<(typeof snmpAuthProtocols)[number], string> = {
  none: 'not signed',
  md5: 'MD5',
  sha: 'SHA-1',
  sha256: 'SHA-256',
  sha512: 'SHA-512',
};
const privWords: Record<(typeof snmpPrivProtocols)[number], string> = {
  none: 'not encrypted',
  aes: 'AES-128',
  aes256: 'AES-256',
};
const choices = <Word extends string>(words: readonly Word[], of: Record<Word, string>) =>
  words.map((value) => ({ value, label: of[value] }));

/** How the radio is reached, by the way that was chosen. */
export function AccessFields({ draft, set, secrets, setSecret, stored, isHere }: Props): ReactNode {
  const secret = (name: SourceSecret, label: string) => (
    <PasswordInput
      label={label}
      value={secrets[name] ?? ''}
      onChange={(event) => setSecret(name, event.currentTarget.value)}
      placeholder={stored.secretsKept.includes(name) ? 'kept; type to replace' : ''}
      autoComplete="new-password"
      maxLength={100}
    />
  );
  if (draft.way === 'snmp')
    return (
      <div className="levels-fields">
        <TextInput
          label="Address of the radio"
          placeholder="192.168.1.20"
          value={draft.host}
          onChange={(event) => set({ host: event.currentTarget.value })}
          autoComplete="off"
        />
        <NumberField label="Port" value={draft.port} onChange={(port) => set({ port })} w={110} />
        <Select
          label="Version"
          data={[...snmpVersions]}
          value={draft.version}
          onChange={(value) => value && set({ version: value })}
          allowDeselect={false}
          w={110}
        />
        {draft.version !== '3' && secret('community', 'Community')}
        {draft.version === '3' && (
          <>
            <TextInput
              label="User"
              value={draft.userName}
              onChange={(event) => set({ userName: event.currentTarget.value })}
              autoComplete="off"
            />
            <Select
              label="Signed with"
              data={choices(snmpAuthProtocols, authWords)}
              value={draft.authProtocol}
              onChange={(value) => value && set({ authProtocol: value })}
              allowDeselect={false}
              w={150}
            />
            {draft.authProtocol !== 'none' && secret('authPassword', 'Password for signing')}
            {draft.authProtocol !== 'none' && (
              <Select
                label="Encrypted with"
                data={choices(snmpPrivProtocols, privWords)}
                value={draft.privProtocol}
                onChange={(value) => value && set({ privProtocol: value })}
                allowDeselect={false}
                w={150}
              />
            )}
            {draft.authProtocol !== 'none' &&
              draft.privProtocol !== 'none' &&
              secret('privPassword', 'Password for encrypting')}
          </>
        )}
      </div>
    );
  if (draft.way === 'http')
    return (
      <div className="levels-fields">
        <TextInput
          label="Address of the answer"
          placeholder="http://192.168.1.20/status.json"
          value={draft.url}
          onChange={(event) => set({ url: event.currentTarget.value })}
          style={{ flex: '1 1 100%' }}
          autoComplete="off"
        />
        <TextInput
          label="User name, if it asks for one"
          value={draft.httpUserName}
          onChange={(event) => set({ httpUserName: event.currentTarget.value })}
          autoComplete="off"
        />
        {secret('password', 'Password')}
        {draft.url.trim().startsWith('https:') && (
          <Checkbox
            label="The radio vouches for itself: take its own certificate"
            checked={draft.ownCertificate}
            onChange={(event) => set({ ownCertificate: event.currentTarget.checked })}
          />
        )}
        {draft.ownCertificate && draft.certificate && (
          <p className="note">
            Confirmed: <span className="figure levels-fingerprint">{draft.certificate}</span>
          </p>
        )}
      </div>
    );
  if (draft.way === 'command')
    return isHere ? (
      <CommandFields
        name={draft.command}
        choose={(command) => set({ command })}
        isWaiting={stored.command !== null && !stored.isCommandAllowed && draft.command === stored.command.name}
      />
    ) : (
      <p className="caution">A command is chosen at the computer that Kivram runs on: it is run there.</p>
    );
  if (draft.way === 'typed')
    return (
      <TextInput
        label="Lights of the radio: the level at which each comes on, weakest first, in dBm (leave empty to type figures)"
        placeholder="−85 −75 −65"
        value={draft.lights}
        onChange={(event) => set({ lights: event.currentTarget.value })}
        autoComplete="off"
      />
    );
  if (draft.way === 'table')
    return (
      <p className="note">
        Turn as the words say; then paste what the radio has noted with its times, or choose its CSV file. The guide
        goes on from there.
      </p>
    );
  return (
    <p className="note">
      A simulated radio in a simulated world, to learn and to try. What it shows proves nothing outside a practice job.
    </p>
  );
}
