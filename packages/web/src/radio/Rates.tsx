import type { DirectionExpectation } from '@kivram/core/throughput/expectation';
import { Rate } from '../parts/Rate';
import { Against } from './Against';

/** From the rate on air to what crosses, and whether it is enough. */
export function Rates({
  title,
  expectation,
  needMbps,
  left,
  before,
}: {
  title: string;
  expectation: DirectionExpectation;
  needMbps: number;
  left: { mbps: number; words: string };
  /** of the plan in place, where something else is tried */
  before?: DirectionExpectation;
}) {
  // One table, one unit.
  const rates = [...expectation.lines.map((line) => line.mbps), left.mbps, needMbps];
  return (
    <section>
      <h2>{title}</h2>
      <table className="ruled">
        <tbody>
          {expectation.lines.map((line) => (
            <tr key={line.key}>
              <td>{line.label}</td>
              <td className="right">
                <Rate mbps={line.mbps} beside={rates} />
                <Against now={line.mbps} was={before?.lines.find((l) => l.key === line.key)?.mbps} />
              </td>
              <td className="note">{line.source}</td>
            </tr>
          ))}
          <tr>
            <td>What is left</td>
            <td className="right">
              <Rate mbps={left.mbps} beside={rates} />
            </td>
            <td className="note">{left.words}</td>
          </tr>
          <tr className="radio-sum">
            <td>Needed</td>
            <td className="right">
              <Rate mbps={needMbps} beside={rates} />
            </td>
            <td>{left.mbps >= needMbps ? 'enough' : 'not enough'}</td>
          </tr>
        </tbody>
      </table>
      <p className="note">
        {expectation.limitedBy === 'nolink'
          ? 'No step of modulation is reached: no throughput.'
          : expectation.limitedBy === 'ethernet'
            ? 'The Ethernet port is the limit, not the radio.'
            : 'The radio is the limit.'}
      </p>
    </section>
  );
}
