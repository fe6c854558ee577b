import type { Model } from '@kivram/core/gear/model';

/** One step as the stand-in sends it: bits that a symbol carries, and the level at which a tenth of the frames is lost. */
export interface SendStep {
  bitsPerSymbol: number;
  sensitivityDbm: number;
  /** by how much less than its set power it is sent */
  quieterDb: number;
}

/** How the stand-in puts frames on the air. All times in microseconds. */
export interface Layer {
  symbolUs: number;
  preambleUs: number;
  /** turns by contention; null where the channel is this direction's own */
  contention: { slotUs: number; waitUs: number; shortWaitUs: number; answerUs: number; firstWindow: number } | null;
  mostFrames: number;
  mostDataUs: number;
  /** bytes around each packet */
  headerBytes: number;
  steps: SendStep[];
}

/** Data bits of one 20 MHz symbol and stream at the long guard interval's tables: IEEE 802.11-2020 21.5 and 802.11ax 27.5, per stream. */
const vhtBits = [26, 52, 78, 104, 156, 208, 234, 260, 312, 1040 / 3];
const heBits = [117, 234, 351, 468, 702, 936, 1053, 1170, 1404, 1560, 1755, 1950];

/** Data subcarriers of a width over those of 20 MHz. */
const vhtScale: Record<number, number> = { 20: 1, 40: 108 / 52, 80: 234 / 52, 160: 468 / 52 };
const heScale: Record<number, number> = { 20: 1, 40: 2, 80: 980 / 234, 160: 1960 / 234 };

/** Single-carrier steps of 60 GHz: coded bits of a block of 448 chips by step (pi/2-BPSK, QPSK, 16-QAM; repetition in the first). */
const dmgBlock: readonly [bits: number, code: number][] = [
  [448 / 2, 1 / 2],
  [448, 1 / 2],
  [448, 5 / 8],
  [448, 3 / 4],
  [448, 13 / 16],
  [896, 1 / 2],
  [896, 5 / 8],
  [896, 3 / 4],
  [896, 13 / 16],
  [1792, 1 / 2],
  [1792, 5 / 8],
  [1792, 3 / 4],
];

/** Bits of a narrowband symbol and symbols per hertz of channel, by step. */
const narrow: readonly [bits: number, symbolsPerHz: number][] = [
  [1, 0.384],
  [2, 0.384],
  [2, 0.71],
  [4, 0.71],
  [6, 0.71],
  [8, 0.71],
];

const wifiContention = { slotUs: 9, waitUs: 34, shortWaitUs: 16, answerUs: 32, firstWindow: 15 };

/**
 * The layer that a sender uses towards a receiver: the steps both have, at what the receiver needs for each.
 * @param conductedDbm what the sender is set to; left out: as much as each of its steps may have
 */
export function layerOf(
  sender: Model,
  receiver: Model,
  widthMHz: number,
  errorCorrection: boolean,
  conductedDbm = -Infinity,
): Layer {
  const offered = receiver.sensitivities.filter(
    (s) =>
      s.widthMHz === widthMHz &&
      (s.errorCorrection ?? false) === errorCorrection &&
      sender.sensitivities.some((own) => own.widthMHz === widthMHz && own.mcs === s.mcs),
  );
  const steps = (bits: (mcs: number) => number | undefined): SendStep[] =>
    offered.flatMap(({ mcs, rslDbm }) => {
      const bitsPerSymbol = bits(mcs);
      const own = sender.sensitivities.find(
        (s) => s.widthMHz === widthMHz && s.mcs === mcs && (s.errorCorrection ?? false) === errorCorrection,
      );
      const quieterDb = Math.max(0, conductedDbm - (own?.mostConductedDbm ?? Infinity));
      return bitsPerSymbol ? [{ bitsPerSymbol, sensitivityDbm: rslDbm, quieterDb }] : [];
    });
  const streams = Math.min(sender.streams, receiver.streams);
  switch (sender.phy) {
    case 'HT':
    case 'VHT':
      return {
        symbolUs: 3.6,
        preambleUs: 40 + 4 * streams,
        contention: wifiContention,
        mostFrames: 64,
        mostDataUs: 5484,
        headerBytes: 62,
        steps: steps((mcs) =>
          sender.phy === 'VHT' && mcs === 9 && widthMHz === 20 && streams !== 3
            ? undefined
            : Math.floor((vhtBits[mcs] ?? 0) * (vhtScale[widthMHz] ?? 0) * streams + 1e-6),
        ),
      };
    case 'HE':
      return {
        symbolUs: 13.6,
        preambleUs: 48 + 8 * streams,
        contention: wifiContention,
        mostFrames: 256,
        mostDataUs: 5484,
        headerBytes: 62,
        steps: steps((mcs) => Math.floor((heBits[mcs] ?? 0) * (heScale[widthMHz] ?? 0) * streams + 1e-6)),
      };
    case 'DMG':
      return {
        symbolUs: 512 / 1760, // a block of 448 chips and its guard of 64, at 1760 million chips a second
        preambleUs: 4.3,
        contention: { slotUs: 5, waitUs: 13, shortWaitUs: 3, answerUs: 10, firstWindow: 15 },
        mostFrames: 64,
        mostDataUs: 2000,
        headerBytes: 58,
        steps: steps((mcs) => {
          const [bits, code] = dmgBlock[mcs - 1] ?? [0, 0];
          return bits * code;
        }),
      };
    case 'NB': {
      // The symbol clock differs by step, so a "symbol" here is a microsecond's worth of it.
      const codeRate = errorCorrection ? 0.75 : 1;
      return {
        symbolUs: 1,
        preambleUs: 0,
        contention: null,
        mostFrames: 1,
        mostDataUs: Infinity,
        headerBytes: 28,
        steps: steps((mcs) => {
          const [bits, symbolsPerHz] = narrow[mcs] ?? [0, 0];
          return bits * symbolsPerHz * widthMHz * codeRate;
        }),
      };
    }
  }
}
