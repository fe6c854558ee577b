import { rateSteps, type Model } from '../gear/model';

/** A choice that was hardly meant as it was typed, with what likely was. */
export interface ChoiceDoubt {
  words: string;
  /** null: nobody can say */
  likely: number | null;
}

const tenth = (value: number): number => Math.round(10 * value) / 10;

/** A power that the model does not send: milliwatts or watts that were typed as dBm, a sign too many, or a plain mistake. */
export function doubtPower(
  dbm: number,
  { leastConductedDbm: least, mostConductedDbm: most, name }: Model,
): ChoiceDoubt | undefined {
  if (Number.isNaN(dbm) || (dbm >= least && dbm <= most)) return undefined;
  const within = (value: number): boolean => value >= least && value <= most;
  const fromMw = dbm > 0 ? tenth(10 * Math.log10(dbm)) : NaN;
  if (dbm > most && within(fromMw))
    return {
      words: `${dbm} dBm is more than ${name} sends, ${most} at the most: were milliwatts typed? ${dbm} mW are ${fromMw} dBm.`,
      likely: fromMw,
    };
  if (dbm < least && within(-dbm))
    return { words: `${name} sends ${least} to ${most} dBm: is there a sign too many?`, likely: -dbm };
  return {
    words: `${name} sends ${least} to ${most} dBm, not ${dbm}.`,
    likely: dbm > most ? most : least,
  };
}

/** A frequency that the model does not tune to: kilohertz, hertz or gigahertz that were typed as megahertz. */
export function doubtFrequency(mhz: number, { lowestMHz, highestMHz, name }: Model): ChoiceDoubt | undefined {
  if (Number.isNaN(mhz) || (mhz >= lowestMHz && mhz <= highestMHz)) return undefined;
  const units: [factor: number, words: string][] = [
    [1 / 1000, 'kilohertz'],
    [1 / 1_000_000, 'hertz'],
    [1000, 'gigahertz'],
  ];
  for (const [factor, words] of units) {
    const likely = Number((mhz * factor).toFixed(6));
    if (likely >= lowestMHz && likely <= highestMHz)
      return {
        words: `${name} tunes from ${lowestMHz} to ${highestMHz} MHz: were ${words} typed? Then it is ${likely} MHz.`,
        likely,
      };
  }
  return { words: `${name} tunes from ${lowestMHz} to ${highestMHz} MHz, and not to ${mhz}.`, likely: null };
}

/** A loss below nothing: a loss is written without its sign here, and a cable gains nothing. */
export function doubtLoss(db: number, what: string): ChoiceDoubt | undefined {
  if (!(db < 0)) return undefined;
  return { words: `${what} of ${db} dB would be a gain: a loss is written without a sign.`, likely: -db };
}

/** A width that a model has, and its mode has no step for, or that one of two models does not have. */
export function doubtWidth(
  widthMHz: number,
  models: readonly Model[],
  errorCorrection: boolean,
): ChoiceDoubt | undefined {
  for (const model of models) {
    const usable = model.widthsMHz.filter((width) => rateSteps(model, width, errorCorrection).length > 0);
    if (usable.includes(widthMHz)) continue;
    const shared = usable.filter((width) => models.every((m) => m.widthsMHz.includes(width)));
    const scaled = [widthMHz / 1000, widthMHz * 1000].find((width) => shared.some((w) => Math.abs(w - width) < 1e-9));
    const nearest = shared.reduce<number | null>(
      (best, width) =>
        best === null || Math.abs(Math.log(width / widthMHz)) < Math.abs(Math.log(best / widthMHz)) ? width : best,
      null,
    );
    return {
      words:
        scaled === undefined
          ? `${model.name} has no step of modulation in ${widthMHz} MHz: its mode does not allow that width.`
          : `${model.name} has no channel of ${widthMHz} MHz: was another unit typed? ${scaled} MHz it has.`,
      likely: scaled ?? nearest,
    };
  }
  return undefined;
}
