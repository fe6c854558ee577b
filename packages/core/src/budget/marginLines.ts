import type { HopReceived } from './hop';
import type { LedgerLine } from './ledger';

/**
 * How a ledger goes on below the received level: how far it may fade until less crosses than is needed, and from there until nothing does. Where a level is not reached,
 * what is missing to it.
 * @param needFadeDb see `NeedPrediction`; null where nothing is asked
 */
export function marginLines(
  { rslDbm, marginDb, ladder }: Pick<HopReceived, 'rslDbm' | 'marginDb' | 'ladder'>,
  needFadeDb: number | null,
): LedgerLine[] {
  const lines: LedgerLine[] = [];
  const slowest = ladder[0];
  let atDbm = rslDbm;
  if (needFadeDb !== null && needFadeDb >= 0) {
    atDbm -= needFadeDb;
    lines.push({
      key: 'needMargin',
      label: 'Margin for the need',
      kind: 'change',
      value: -needFadeDb,
      runningDbm: atDbm,
      source: 'steps of both directions, the time of the air, what is needed',
    });
  }
  if (!slowest) return lines;
  const { fromDbm, step } = slowest;
  const value = fromDbm - atDbm;
  lines.push({
    key: 'dropMargin',
    label:
      marginDb < 0 ? 'Missing to the slowest step' : lines.length ? 'Then, until it drops' : 'Margin until it drops',
    kind: 'change',
    value,
    runningDbm: fromDbm,
    source: 'sensitivity of the slowest step',
    terms: () => [
      { name: `slowest step, MCS ${step.mcs}, needs`, value: step.sensitivityDbm, unit: 'dBm' },
      { name: 'with noise of others and less power', value: fromDbm, unit: 'dBm' },
      { name: 'margin from the received level', value: marginDb, unit: 'dB' },
    ],
  });
  return lines;
}
