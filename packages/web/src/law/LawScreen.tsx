import type { JobLawView } from '@kivram/contract/views/law';
import { lawCaution, type SpectrumRule } from '@kivram/core/spectrum/ruleSet';
import { useParams } from 'react-router';
import { JobTabs } from '../job/JobTabs';
import { widthText } from '../parts/channelText';
import { typeset } from '../parts/Figure';
import { NotShown } from '../parts/NotShown';
import { useJob, useJobLaw } from '../queries';
import { Licences } from './Licences';
import { LocalRules } from './LocalRules';
import './law.css';

/** What may be sent in a job, and by what right: licences, what was noted for the job, the country's rules. */
export function LawScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const law = useJobLaw(jobId);
  const error = job.error ?? law.error;
  if (!job.data || !law.data) return error ? <NotShown error={error} /> : <p className="soft">Reading the law</p>;
  const { name, customer, country } = job.data.job;
  return (
    <>
      <JobTabs jobId={jobId} name={name} customer={customer} />
      <p className="caution">{lawCaution} Who mounts and switches on is answerable for it.</p>
      <div className="law">
        <Licences jobId={jobId} licences={law.data.licences} />
        <LocalRules jobId={jobId} rules={law.data.localRules} />
        <CountryRules view={law.data} country={country} />
      </div>
    </>
  );
}

function CountryRules({ view, country }: { view: JobLawView; country: string }) {
  const { law } = view;
  if (!law)
    return (
      <section>
        <h2>The rules of {country}</h2>
        <p>
          They are not known here. Look up which bands, widths and powers are allowed, and note them above with their
          source: until then a plan says that nobody has looked.
        </p>
      </section>
    );
  const { rules } = law;
  return (
    <section>
      <h2>The rules of {law.name}</h2>
      <p className="note">
        Source: {law.source ?? 'not known'}; in force since {law.validFrom}. Where several rules hold for a channel, the
        one counts that allows most for its use; those with a source of their own are for links between fixed points. A
        channel of any width may reach over the edge into the next band of that kind where each 20 MHz of it lies in
        one.
      </p>
      <div className="scroll" tabIndex={0} role="region" aria-label="The rules as a table">
        <table className="ruled law-table">
          <thead>
            <tr>
              <th className="right">From</th>
              <th className="right">To</th>
              <th>Channels</th>
              <th>EIRP at most</th>
              <th>Conditions</th>
              <th>Source</th>
            </tr>
          </thead>
          <tbody>
            {[...rules].sort(byBand).map((rule, i) => (
              <tr key={i} className={rule.indoor || rule.joinOnly ? 'law-out' : ''}>
                <td className="right figure">{rule.lowestMHz} MHz</td>
                <td className="right figure">{rule.highestMHz} MHz</td>
                <td>{rule.mostWidthMHz ? `up to ${widthText(rule.mostWidthMHz)}` : 'any width'}</td>
                <td>{limitText(rule)}</td>
                <td>{conditionsText(rule)}</td>
                <td className="note">
                  {rule.source ?? law.source ?? 'not known'}
                  {rule.verify && '; from memory, look it up'}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function byBand(a: SpectrumRule, b: SpectrumRule): number {
  return a.lowestMHz - b.lowestMHz || Number(!!a.layer) - Number(!!b.layer);
}

function limitText({ mostEirpDbm, eirpByGain, mostDbmPerMHz }: SpectrumRule): string {
  const tenths = Math.round(10 * mostEirpDbm) / 10;
  const parts = [`${typeset(tenths, Number.isInteger(tenths) ? 0 : 1)} dBm`];
  if (mostDbmPerMHz !== undefined) parts.push(`${mostDbmPerMHz} dBm in each MHz`);
  if (eirpByGain)
    parts.push(`by the antenna: ${eirpByGain.map(([gain, eirp]) => `${gain} dBi ${eirp} dBm`).join(', ')}`);
  return parts.join('; ');
}

function conditionsText(rule: SpectrumRule): string {
  const words = [
    rule.indoor && 'indoors only: no outdoor link',
    rule.joinOnly && 'no access point',
    rule.radar && 'gives way to radar',
    rule.pointToPoint && 'between two points',
    rule.leastGainDbi !== undefined && `antenna of ${rule.leastGainDbi} dBi and more`,
  ].filter(Boolean);
  return words.join(', ') || 'none';
}
