import { routes } from '@kivram/contract/routes';
import type { CatalogueEntry } from '@kivram/contract/views/gear';
import { bandWords } from '@kivram/core/gear/model';
import { poeWords } from '@kivram/core/gear/poe';
import { radioKinds } from '@kivram/core/radio/kinds';
import { Button, Checkbox, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { widthsText } from '../parts/channelText';
import { Problem } from '../parts/Problem';
import { useFiles } from '../parts/useFiles';
import { useCatalogue, useChange } from '../queries';
import { CompareTable } from './CompareTable';
import './catalogue.css';
import { Working } from '../parts/Only';

/** The kind of radio, with its band where the kind does not say it. */
function kindText({ phy, band }: CatalogueEntry['spec']): string {
  const { words } = radioKinds[phy];
  return words.includes(bandWords[band]) ? words : `${words}, ${bandWords[band]}`;
}

/** So many can be read side by side. */
const mostCompared = 4;

/** The spec sheets of the gear, for all jobs of this computer. */
export function CatalogueScreen() {
  const catalogue = useCatalogue();
  const [find, setFind] = useState('');
  const [chosen, setChosen] = useState<string[]>([]);
  const wanted = find.trim().toLowerCase();
  const all = catalogue.data ?? [];
  const found = all.filter(({ spec }) =>
    [spec.maker, spec.name, bandWords[spec.band], radioKinds[spec.phy].words].join(' ').toLowerCase().includes(wanted),
  );
  const compared = chosen.flatMap((id) => all.find(({ spec }) => spec.id === id) ?? []);
  const choose = (id: string): void =>
    setChosen((before) => (before.includes(id) ? before.filter((other) => other !== id) : [...before, id]));
  return (
    <>
      <div className="row" style={{ margin: '4px 0 12px' }}>
        <h1>Catalogue of gear</h1>
        <span style={{ flex: 1 }} />
        {all.length > 8 && (
          <TextInput
            aria-label="Find a spec sheet"
            placeholder="find a model"
            value={find}
            w={200}
            onChange={(event) => setFind(event.currentTarget.value)}
          />
        )}
        <Working>
          <Button component={Link} to="/catalogue/new" size="sm">
            Add a spec sheet
          </Button>
        </Working>
      </div>
      <Problem error={catalogue.error} />
      {catalogue.data && !all.length && (
        <p>
          No gear yet. Add the spec sheet of each kind of radio that you mount, as its maker prints it: predictions and
          the bench go by it. Or read a file of spec sheets below.
        </p>
      )}
      {found.length > 0 && (
        <div className="scroll" tabIndex={0} role="region" aria-label="Spec sheets, as a table">
          <table className="ruled">
            <thead>
              <tr>
                <th>
                  <span className="visually-hidden">Compare</span>
                </th>
                <th>Model</th>
                <th>Kind</th>
                <th>Widths</th>
                <th className="right">Gain</th>
                <th className="right">Beam</th>
                <th className="right">Most power</th>
                <th className="right">Port</th>
                <th>Supply</th>
                <th className="right">Radios</th>
              </tr>
            </thead>
            <tbody>
              {found.map((entry) => (
                <Row
                  key={entry.spec.id}
                  entry={entry}
                  chosen={chosen.includes(entry.spec.id)}
                  full={chosen.length >= mostCompared}
                  onChoose={choose}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
      {compared.length > 1 && <CompareTable entries={compared} />}
      {compared.length === 1 && <p className="note">Choose another one to compare it with, up to {mostCompared}.</p>}
      <GearFiles count={all.length} />
    </>
  );
}

interface RowProps {
  entry: CatalogueEntry;
  chosen: boolean;
  full: boolean;
  onChoose(id: string): void;
}

function Row({ entry: { spec, radios, older }, chosen, full, onChoose }: RowProps) {
  const behind = older.reduce((sum, job) => sum + job.radios, 0);
  return (
    <tr>
      <td>
        <Checkbox
          className="compare-choice"
          aria-label={`Compare ${spec.maker} ${spec.name}`}
          checked={chosen}
          disabled={full && !chosen}
          onChange={() => onChoose(spec.id)}
        />
      </td>
      <td>
        <Link to={`/catalogue/${encodeURIComponent(spec.id)}`}>
          {spec.maker} {spec.name}
        </Link>
      </td>
      <td>{kindText(spec)}</td>
      <td className="figure">{widthsText(spec.widthsMHz)}</td>
      <td className="right figure">{spec.antennaGainDbi} dBi</td>
      <td className="right figure">
        {spec.beamWidth.azimuthDeg}° × {spec.beamWidth.elevationDeg}°
      </td>
      <td className="right figure">{spec.mostConductedDbm} dBm</td>
      <td className="right figure">{spec.ethernetMbps} Mbit/s</td>
      <td>{poeWords[spec.poe]}</td>
      <td className="right figure">
        {radios}
        {behind > 0 && <span className="note"> {behind} older</span>}
      </td>
    </tr>
  );
}

function GearFiles({ count }: { count: number }) {
  const bring = useChange(routes.importModels, {}, '', ['models']);
  const { drop, results } = useFiles({ characters: 5_000_000, mend: 'Bring it in pieces.' }, (file) =>
    bring.mutateAsync(file),
  );
  return (
    <section style={{ marginTop: 28 }} {...drop.getRootProps()}>
      <h2>Spec sheets from a file, and into one</h2>
      <input {...drop.getInputProps({ 'aria-label': 'Files of spec sheets' })} />
      <div className="row">
        <Working>
          <Button variant="default" onClick={drop.open}>
            Choose files
          </Button>
          <span className="soft">or drop them here: the JSON described in docs/gear-document.md</span>
        </Working>
        {count > 0 && (
          <Button component="a" href={routes.exportModels.path} download variant="default">
            Export the catalogue
          </Button>
        )}
      </div>
      {results.map(({ name, read, error }, i) =>
        read ? (
          <div key={i} role="status">
            <p>
              {name}: {read.taken.filter((t) => t.what === 'new').length} new,{' '}
              {read.taken.filter((t) => t.what === 'revision').length} as a next revision,{' '}
              {read.taken.filter((t) => t.what === 'known').length} known already, {read.refused.length} refused.
            </p>
            {read.refused.map(({ name: model, reasons }) => (
              <Problem key={model} error={new Error(`${model}: ${reasons.join('. ')}`)} />
            ))}
          </div>
        ) : (
          <Problem key={i} error={new Error(`${name}: ${error}`)} />
        ),
      )}
    </section>
  );
}
