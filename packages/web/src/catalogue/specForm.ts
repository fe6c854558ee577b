import type { SpecFields } from '@kivram/contract/entities/spec';
import { NewModelBody } from '@kivram/contract/requests/gear';
import { check } from '@kivram/contract/validate';
import type { AntennaPattern } from '@kivram/core/antenna/pattern';
import type { Band, Model, PairingKind, Sensitivity } from '@kivram/core/gear/model';
import type { PoeKind } from '@kivram/core/gear/poe';
import { radioKinds, type Protocol } from '@kivram/core/radio/kinds';
import type { Phy } from '@kivram/core/radio/kinds/kind';
import { narrowbandWidthsMHz } from '@kivram/core/radio/kinds/narrowband';
import { numberIn, type TypedNumber } from '../parts/NumberField';

/** One cell of the table of steps: from which level on it works, and how much is sent at most. */
export interface StepCell {
  rslDbm: TypedNumber;
  mostConductedDbm: TypedNumber;
}

/** A spec sheet as it is typed. */
export interface SpecForm {
  maker: string;
  name: string;
  band: Band;
  phy: Phy;
  lowestMHz: TypedNumber;
  highestMHz: TypedNumber;
  streams: TypedNumber;
  protocols: Protocol[];
  widthsMHz: number[];
  leastConductedDbm: TypedNumber;
  mostConductedDbm: TypedNumber;
  antennaGainDbi: TypedNumber;
  azimuthDeg: TypedNumber;
  elevationDeg: TypedNumber;
  crossPolarDb: TypedNumber;
  pattern: AntennaPattern | null;
  noiseFigureDb: TypedNumber;
  overloadDbm: TypedNumber;
  /** by cellKey */
  steps: Record<string, StepCell>;
  ethernetMbps: TypedNumber;
  otherPorts: string;
  poe: PoeKind;
  poeWatts: TypedNumber;
  mostStations: TypedNumber;
  hasPtpOnly: boolean;
  occupiedPercent: TypedNumber;
  pairingKind: PairingKind | '';
  factoryAddress: string;
  bootS: TypedNumber;
  saveS: TypedNumber;
  weightKg: TypedNumber;
  price: TypedNumber;
  currency: string;
}

export const emptyCell: StepCell = { rslDbm: null, mostConductedDbm: null };

export function cellKey(mcs: number, widthMHz: number, errorCorrection: boolean): string {
  return `${mcs} ${widthMHz}${errorCorrection ? ' corrected' : ''}`;
}

/** The band, frequencies and width that a kind of radio usually has, to begin with. */
const usual: Record<Phy, { band: Band; lowestMHz: number; highestMHz: number; widthsMHz: number[]; streams: number }> =
  {
    HT: { band: '5GHz', lowestMHz: 5150, highestMHz: 5850, widthsMHz: [20, 40], streams: 2 },
    VHT: { band: '5GHz', lowestMHz: 5150, highestMHz: 5850, widthsMHz: [20, 40, 80], streams: 2 },
    HE: { band: '5GHz', lowestMHz: 5150, highestMHz: 5850, widthsMHz: [20, 40, 80], streams: 2 },
    DMG: { band: '60GHz', lowestMHz: 57240, highestMHz: 65880, widthsMHz: [2160], streams: 1 },
    NB: { band: 'licensed', lowestMHz: 400, highestMHz: 470, widthsMHz: [0.025], streams: 1 },
  };

/** Channel widths that a kind of radio can have. */
export function widthsOf(phy: Phy): number[] {
  const kind = radioKinds[phy];
  const candidates = [...narrowbandWidthsMHz, 5, 10, 20, 40, 80, 160, 2160];
  return candidates.filter((width) => kind.steps.some((mcs) => kind.rateMbps(mcs, width, 1, false) !== undefined));
}

/** Bands that a kind of radio can work in. */
export function bandsOf(phy: Phy): Band[] {
  return phy === 'DMG' ? ['60GHz'] : phy === 'NB' ? ['licensed'] : phy === 'VHT' ? ['5GHz'] : ['2.4GHz', '5GHz'];
}

/** A sheet to begin with for a kind of radio: what its standard asks at least, until the maker's figures are typed. */
export function emptySpec(phy: Phy): SpecForm {
  const { band, lowestMHz, highestMHz, widthsMHz, streams } = usual[phy];
  return {
    maker: '',
    name: '',
    phy,
    band,
    lowestMHz,
    highestMHz,
    widthsMHz,
    streams,
    protocols: ['802.11'],
    leastConductedDbm: 0,
    mostConductedDbm: null,
    antennaGainDbi: null,
    azimuthDeg: null,
    elevationDeg: null,
    crossPolarDb: null,
    pattern: null,
    noiseFigureDb: 6,
    overloadDbm: -25,
    steps: standardSteps(phy, widthsMHz),
    ethernetMbps: 1000,
    otherPorts: '',
    poe: 'passive24',
    poeWatts: null,
    mostStations: null,
    hasPtpOnly: false,
    occupiedPercent: null,
    pairingKind: '',
    factoryAddress: '',
    bootS: null,
    saveS: null,
    weightKg: null,
    price: null,
    currency: 'EUR',
  };
}

/** What the standard of a kind asks of any radio, in each of these widths. */
export function standardSteps(phy: Phy, widthsMHz: readonly number[]): Record<string, StepCell> {
  const kind = radioKinds[phy];
  const cells = widthsMHz.flatMap((width) =>
    kind.steps.flatMap((mcs): [string, StepCell][] =>
      kind.rateMbps(mcs, width, 1, false) === undefined
        ? []
        : [
            [
              cellKey(mcs, width, false),
              { ...emptyCell, rslDbm: Math.round(kind.minimumSensitivityDbm(mcs, width, false)) },
            ],
          ],
    ),
  );
  return Object.fromEntries(cells);
}

export function formOf(model: Model): SpecForm {
  const typed = (value: number | undefined): TypedNumber => value ?? null;
  return {
    ...model,
    azimuthDeg: model.beamWidth.azimuthDeg,
    elevationDeg: model.beamWidth.elevationDeg,
    crossPolarDb: typed(model.crossPolarDb),
    pattern: model.pattern ?? null,
    steps: Object.fromEntries(
      model.sensitivities.map(({ mcs, widthMHz, rslDbm, errorCorrection, mostConductedDbm }) => [
        cellKey(mcs, widthMHz, errorCorrection ?? false),
        { rslDbm, mostConductedDbm: typed(mostConductedDbm) },
      ]),
    ),
    otherPorts: (model.otherPortsMbps ?? []).join(', '),
    occupiedPercent: typed(model.occupiedPercent),
    poeWatts: typed(model.poeWatts),
    mostStations: typed(model.mostStations),
    pairingKind: model.pairingKind ?? '',
    factoryAddress: model.factoryAddress ?? '',
    bootS: typed(model.bootS),
    saveS: typed(model.saveS),
    weightKg: typed(model.weightKg),
    price: typed(model.price?.amount),
    currency: model.price?.currency ?? 'EUR',
  };
}

export interface ReadSpec {
  /** null while something cannot be read */
  spec: SpecFields | null;
  /** what is typed so far, for whoever looks for likely mistakes */
  typed: SpecFields;
  /** what is wrong, by the field of the form */
  errors: Record<string, string>;
}

/** Where the form has what the contract calls otherwise. */
const formFields: Record<string, string> = {
  'beamWidth.azimuthDeg': 'azimuthDeg',
  'beamWidth.elevationDeg': 'elevationDeg',
  'price.amount': 'price',
  'price.currency': 'currency',
  otherPortsMbps: 'otherPorts',
};

/** The form as the contract knows it. An empty field of what may be unknown is left out; an empty field of what must be known is an error. */
export function readSpec(form: SpecForm): ReadSpec {
  const known = (typed: TypedNumber): number => (typed === null ? NaN : numberIn(typed));
  const maybe = (name: string, typed: TypedNumber): object => (typed === null ? {} : { [name]: numberIn(typed) });
  const ports = form.otherPorts.trim()
    ? form.otherPorts
        .split(/[,;\s]+/)
        .filter(Boolean)
        .map(Number)
    : [];
  const plain: SpecFields = {
    maker: form.maker.trim(),
    name: form.name.trim(),
    band: form.band,
    phy: form.phy,
    lowestMHz: known(form.lowestMHz),
    highestMHz: known(form.highestMHz),
    streams: known(form.streams),
    protocols: form.protocols,
    widthsMHz: form.widthsMHz,
    leastConductedDbm: known(form.leastConductedDbm),
    mostConductedDbm: known(form.mostConductedDbm),
    antennaGainDbi: known(form.antennaGainDbi),
    beamWidth: { azimuthDeg: known(form.azimuthDeg), elevationDeg: known(form.elevationDeg) },
    noiseFigureDb: known(form.noiseFigureDb),
    overloadDbm: known(form.overloadDbm),
    sensitivities: sensitivitiesOf(form),
    ethernetMbps: known(form.ethernetMbps),
    poe: form.poe,
    hasPtpOnly: form.hasPtpOnly,
    ...maybe('crossPolarDb', form.crossPolarDb),
    ...maybe('occupiedPercent', form.occupiedPercent),
    ...(form.pattern && { pattern: form.pattern }),
    ...(ports.length && { otherPortsMbps: ports }),
    ...maybe('poeWatts', form.poeWatts),
    ...maybe('mostStations', form.mostStations),
    ...(form.pairingKind && { pairingKind: form.pairingKind }),
    ...(form.factoryAddress.trim() && { factoryAddress: form.factoryAddress.trim() }),
    ...maybe('bootS', form.bootS),
    ...maybe('saveS', form.saveS),
    ...maybe('weightKg', form.weightKg),
    ...(form.price !== null && {
      price: { amount: numberIn(form.price), currency: form.currency.trim().toUpperCase() },
    }),
  };
  const { value, errors } = check(NewModelBody, { spec: plain });
  return {
    spec: value?.spec ?? null,
    typed: plain,
    errors: Object.fromEntries(
      (errors ?? []).map(({ field, message }) => {
        const name = field.replace(/^spec\./, '');
        return [formFields[name] ?? name.split('.')[0] ?? name, message];
      }),
    ),
  };
}

/** The table of steps as rows; a cell of a width that was taken away stays typed, and is none. */
function sensitivitiesOf({ phy, widthsMHz, steps }: SpecForm): Sensitivity[] {
  return widthsMHz.flatMap((widthMHz) =>
    [false, true].flatMap((errorCorrection) =>
      radioKinds[phy].steps.flatMap((mcs): Sensitivity[] => {
        const cell = steps[cellKey(mcs, widthMHz, errorCorrection)];
        if (!cell || cell.rslDbm === null) return [];
        return [
          {
            mcs,
            widthMHz,
            rslDbm: numberIn(cell.rslDbm),
            ...(errorCorrection && { errorCorrection }),
            ...(cell.mostConductedDbm !== null && { mostConductedDbm: numberIn(cell.mostConductedDbm) }),
          },
        ];
      }),
    ),
  );
}
