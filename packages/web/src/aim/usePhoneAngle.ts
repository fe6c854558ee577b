import { routes } from '@kivram/contract/routes';
import { flatterSide, pointingOf, Unwrapped, type PhoneSide } from '@kivram/core/aiming/phoneAttitude';
import type { End } from '@kivram/core/budget/plan';
import { useEffect, useState } from 'react';
import { call } from '../api';

/** What the phone tells now. */
export interface PhoneAngle {
  azimuthDeg: number;
  tiltDeg: number;
  side: PhoneSide;
  /** its gyroscope's own rotation, or that of its compass */
  azimuthBy: 'relative' | 'compass';
}

export type PhoneState =
  | { kind: 'off' }
  | { kind: 'asking' }
  | { kind: 'refused'; words: string }
  | { kind: 'on'; angle: PhoneAngle | null };

/** Sent as often as radios are read, ms. */
const everyMs = 100;
/** A device that has said nothing for so long has no sensor, ms. */
const patienceMs = 2500;

/** On some phones people are asked first; the types of browsers do not know it. */
interface AskingEvent {
  requestPermission?(): Promise<'granted' | 'denied'>;
}

/**
 * The attitude of this phone, told to the alignment while it lies on the antenna of an end. The rotation that the phone reckons from its gyroscope is used: a compass
 * beside a steel mast is no angle. Tilt is gravity's, and true.
 */
export function usePhoneAngle(alignmentId: string, end: End): [PhoneState, (on: boolean) => void] {
  const [wanted, setWanted] = useState(false);
  const [state, setState] = useState<PhoneState>({ kind: 'off' });
  useEffect(() => {
    if (!wanted) return;
    let angle: PhoneAngle | null = null;
    let side: PhoneSide | null = null;
    const turned = new Unwrapped();
    let isUnderWay = false;
    const listen = ({ alpha, beta, gamma, absolute }: DeviceOrientationEvent): void => {
      if (alpha === null || beta === null || gamma === null) return;
      const angles = { alphaDeg: alpha, betaDeg: beta, gammaDeg: gamma };
      // It keeps the side it was laid by, however it is tilted later.
      side ??= flatterSide(angles);
      const pointing = pointingOf(angles, side);
      if (!pointing) return;
      angle = {
        azimuthDeg: turned.push(pointing.azimuthDeg),
        tiltDeg: pointing.tiltDeg,
        side,
        azimuthBy: absolute ? 'compass' : 'relative',
      };
    };
    const send = (): void => {
      setState((before) => (before.kind === 'refused' ? before : { kind: 'on', angle }));
      if (!angle || isUnderWay) return;
      isUnderWay = true;
      const { azimuthDeg, tiltDeg, azimuthBy } = angle;
      void call(routes.tellAngle, { alignmentId }, { end, azimuthDeg, tiltDeg, azimuthBy })
        .catch(() => undefined) // the next one comes in a moment, and the stream says what is wrong
        .finally(() => (isUnderWay = false));
    };
    window.addEventListener('deviceorientation', listen);
    const sending = window.setInterval(send, everyMs);
    const waiting = window.setTimeout(() => {
      if (!angle) setState({ kind: 'refused', words: whyNone() });
    }, patienceMs);
    return () => {
      window.removeEventListener('deviceorientation', listen);
      window.clearInterval(sending);
      window.clearTimeout(waiting);
    };
  }, [wanted, alignmentId, end]);

  const switchTo = (on: boolean): void => {
    if (!on) {
      setWanted(false);
      return setState({ kind: 'off' });
    }
    setState({ kind: 'asking' });
    void askPermission().then((words) => (words ? setState({ kind: 'refused', words }) : setWanted(true)));
  };
  return [state, switchTo];
}

/** @returns why the attitude is not told; null where it is */
async function askPermission(): Promise<string | null> {
  if (!window.isSecureContext)
    return 'Browsers tell a phone’s attitude to encrypted pages only: open Kivram to the local network, and scan its code.';
  if (!('DeviceOrientationEvent' in window)) return whyNone();
  const asking = window.DeviceOrientationEvent as unknown as AskingEvent;
  try {
    if (asking.requestPermission && (await asking.requestPermission()) !== 'granted')
      return 'The phone was not allowed to tell its attitude. Allow motion and orientation for this page in its settings, and load it again.';
    return null;
  } catch {
    return 'The phone refused to ask whether it may tell its attitude. Tap once more.';
  }
}

const whyNone = (): string =>
  'This device tells no attitude: it has no such sensor, or the browser keeps it to itself.';
