import type { InvitationView, NetworkOpening } from '@kivram/contract/views/people';
import { Modal } from '@mantine/core';
import { useInterval } from '@mantine/hooks';
import QRCode from 'qrcode';
import { useEffect, useState } from 'react';
import { PlainSelect } from '../parts/PlainSelect';

interface Props {
  invitation: InvitationView;
  opening: NetworkOpening;
  onClose(): void;
}

/** The code that a phone scans, while it lets somebody in. */
export function InvitationDialog({ invitation: { code, name, role, joinsAs, expiresAt }, opening, onClose }: Props) {
  const [address, setAddress] = useState(opening.addresses[0] ?? '');
  // Behind the mark a browser keeps it to itself: it stands in no log on the way.
  const target = `${address}/join#${code}`;
  const picture = usePicture(target);
  const left = useSecondsUntil(expiresAt);
  const clock = `${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}`;
  return (
    <Modal opened onClose={onClose} title={`For ${name}'s phone, as ${role}`} size="lg">
      {left > 0 ? (
        <>
          {picture && <img className="invitation-code" src={picture} alt={`Code for the address ${target}`} />}
          {opening.addresses.length > 1 && (
            <p>
              This computer is in several networks; the phone in{' '}
              <PlainSelect
                aria-label="Network of the phone"
                options={opening.addresses.map((value) => ({ value, label: value }))}
                value={address}
                onChoose={setAddress}
              />
            </p>
          )}
          <p>
            Scan it with the phone&rsquo;s camera, or type the address there.{' '}
            {joinsAs
              ? `Whoever has signed in there as ${joinsAs} joins this job by it, once;`
              : 'It lets one phone in, once;'}{' '}
            still for <span className="figure">{clock}</span> minutes.
          </p>
          <p className="figure fingerprint">{target}</p>
          <p className="note">
            The phone warns of the certificate: go on if its SHA-256 fingerprint is{' '}
            <span className="figure fingerprint">{opening.fingerprint}</span>. The code is one of 2<sup>128</sup>, and
            an address may try 20 in ten minutes: guessing is hopeless.
          </p>
        </>
      ) : (
        <p>This invitation is over. Close this and make another one.</p>
      )}
    </Modal>
  );
}

function usePicture(text: string): string | null {
  const [picture, setPicture] = useState<string | null>(null);
  useEffect(() => {
    let wanted = true;
    void QRCode.toDataURL(text, { margin: 2, width: 640, errorCorrectionLevel: 'M' }).then(
      (url) => wanted && setPicture(url),
    );
    return () => {
      wanted = false;
    };
  }, [text]);
  return picture;
}

function useSecondsUntil(moment: string): number {
  const left = (): number => Math.max(0, Math.round((Date.parse(moment) - Date.now()) / 1000));
  const [seconds, setSeconds] = useState(left);
  useInterval(() => setSeconds(left()), 1000, { autoInvoke: true });
  return seconds;
}
