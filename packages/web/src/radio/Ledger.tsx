import type { EndPrediction } from '@kivram/core';
import { typeset } from '../parts/Figure';

/** Gains and losses, line by line, with the running level. */
export function Ledger({ title, end, prediction }: { title: string; end: 'near' | 'far'; prediction: EndPrediction }) {
  return (
    <section>
      <h2 className={end}>{title}</h2>
      <table className="ruled">
        <thead>
          <tr>
            <th>Line</th>
            <th className="right">Change</th>
            <th className="right">Level</th>
            <th>From</th>
          </tr>
        </thead>
        <tbody>
          {prediction.ledger.map((line) => (
            <tr key={line.key} className={line.kind === 'level' ? 'radio-sum' : ''}>
              <td>{line.label}</td>
              <td className="right figure">{line.kind === 'change' ? `${typeset(line.value, 1, true)} dB` : ''}</td>
              <td className="right figure">{typeset(line.runningDbm, 1)} dBm</td>
              <td className="note">{line.source}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
