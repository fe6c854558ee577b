import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Ledger } from './ledger';

describe('the ledger', () => {
  it('keeps the running level beside each gain and loss', () => {
    const ledger = new Ledger('conducted', 'Conducted power', 10, 'plan')
      .change('gain', 'Gain', 16, 'sheet')
      .mark('eirp', 'EIRP', 'sum')
      .change('loss', 'Loss', -100, 'P.525');
    expect(ledger.levelDbm).toBe(-74);
    expect(ledger.lines.map((l) => [l.key, l.kind, l.runningDbm])).toEqual([
      ['conducted', 'level', 10],
      ['gain', 'change', 26],
      ['eirp', 'level', 26],
      ['loss', 'change', -74],
    ]);
  });

  it('ends at the sum, whatever the lines', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -200, max: 200 })), (changes) => {
        const ledger = new Ledger('a', 'A', 3, 'x');
        for (const c of changes) ledger.change('c', 'C', c, 'x');
        expect(ledger.levelDbm).toBe(3 + changes.reduce((sum, c) => sum + c, 0));
      }),
    );
  });
});
