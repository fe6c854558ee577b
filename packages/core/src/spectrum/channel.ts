import type { Band } from '../gear/model';

/** A channel by its centre and width. */
export interface Channel {
  centreMHz: number;
  widthMHz: number;
}

const steps = (firstMHz: number, count: number, byMHz: number): number[] =>
  Array.from({ length: count }, (_, i) => firstMHz + i * byMHz);

/** Centres per band and width: IEEE 802.11-2020 annex E (2.4 and 5 GHz) and 20.3 (60 GHz). */
const centres: Record<Exclude<Band, 'licensed'>, Partial<Record<number, number[]>>> = {
  '2.4GHz': { 20: steps(2412, 13, 5), 40: steps(2422, 9, 5) },
  '5GHz': {
    20: [...steps(5180, 8, 20), ...steps(5500, 12, 20), ...steps(5745, 5, 20)],
    40: [...steps(5190, 4, 40), ...steps(5510, 6, 40), ...steps(5755, 2, 40)],
    80: [5210, 5290, 5530, 5610, 5690, 5775],
    160: [5250, 5570],
  },
  '60GHz': { 2160: steps(58320, 4, 2160) },
};

/** The channel centres of a band at a width; none for licensed bands, whose frequencies come from the licence. */
export function channelCentresMHz(band: Band, widthMHz: number): number[] {
  return band === 'licensed' ? [] : (centres[band][widthMHz] ?? []);
}

/** The usual number of a channel: offset of its centre from the band's base in 5 MHz steps (60 GHz: 2160 MHz steps). */
export function channelNumber({ centreMHz }: Channel): number {
  if (centreMHz > 50000) return Math.round((centreMHz - 56160) / 2160);
  return Math.round((centreMHz - (centreMHz < 3000 ? 2407 : 5000)) / 5);
}

/** Whether a channel lies wholly between two frequencies. */
export function channelFits({ centreMHz, widthMHz }: Channel, lowestMHz: number, highestMHz: number): boolean {
  return centreMHz - widthMHz / 2 >= lowestMHz && centreMHz + widthMHz / 2 <= highestMHz;
}

/** The channels of 20 MHz that a wider one is made of (IEEE 802.11-2020 19.3 and 21.3); a channel of another width is one piece. */
export function channelParts({ centreMHz, widthMHz }: Channel): Channel[] {
  const partMHz = widthMHz % 20 === 0 && widthMHz <= 160 ? 20 : widthMHz;
  const lowestMHz = centreMHz - widthMHz / 2;
  return Array.from({ length: widthMHz / partMHz }, (_, i) => ({
    centreMHz: lowestMHz + (i + 0.5) * partMHz,
    widthMHz: partMHz,
  }));
}
