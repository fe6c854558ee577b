import type { Security } from '@kivram/core/pairing/sheet';
import type { Protocol } from '@kivram/core/radio/kinds';

/** What travels over the air between stand-in radios. */
export interface Frame {
  kind:
    | 'beacon'
    | 'authenticate'
    | 'authenticated'
    | 'associate'
    | 'associated'
    | 'refused'
    | 'challenge'
    | 'proof'
    | 'keyed'
    | 'rejected'
    | 'greet'
    | 'ethernet';
  from: string;
  to: string;
  body: FrameBody;
}

export interface FrameBody {
  networkName?: string;
  security?: Security;
  /** slots of a frame: the map that a slot protocol's stations must share */
  slotMap?: string;
  nonce?: string;
  proof?: string;
  reason?: string;
  ethernet?: EthernetFrame;
}

/** A frame that a bridge carries: only what the stand-in needs of Ethernet, ARP and ICMP. */
export interface EthernetFrame {
  kind: 'who-has' | 'is-at' | 'ping' | 'pong' | 'broadcast';
  targetAddress: string;
  senderAddress: string;
  senderMac: string;
}

/** A carrier as a receiver meets it. */
export interface Carrier {
  centreMHz: number;
  widthMHz: number;
  protocol: Protocol;
  /** error correction of a licensed pair: without knowing it nobody can read the other */
  coded: boolean;
}
