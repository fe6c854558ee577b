import type { CatalogueEntry } from '@kivram/contract/views/gear';
import type { LinkView } from '@kivram/contract/views/link';
import { ends, planOf, type End } from '@kivram/core/budget/plan';
import { tryPredict } from '@kivram/core/budget/prediction';
import type { Model } from '@kivram/core/gear/model';
import { Figure } from '../parts/Figure';
import { Rate } from '../parts/Rate';
import type { AboutDraft } from './aboutDraft';

/** What other gear would change, before it is saved; another place has another path, which is computed once it is. */
export function GearChange({
  view,
  draft,
  catalogue,
}: {
  view: LinkView;
  draft: AboutDraft;
  catalogue: readonly CatalogueEntry[];
}) {
  const modelOf = (end: End): Model => {
    const { radio, model } = view[end];
    const { modelId, modelRevision } = draft[end];
    if (modelId === radio.modelId && modelRevision === radio.modelRevision) return model;
    return catalogue.find(({ spec }) => spec.id === modelId)?.spec ?? model;
  };
  const models = { near: modelOf('near'), far: modelOf('far') };
  const moved = ends.some((end) => draft[end].placeId !== view[end].radio.placeId);
  const other = ends.some((end) => models[end] !== view[end].model);
  if (!moved && !other) return null;
  if (moved) return <p className="note">Another place has another path: it is computed once this is saved.</p>;
  const plan = planOf(view);
  const now = tryPredict(plan).prediction;
  const then = tryPredict({
    ...plan,
    near: { ...plan.near, model: models.near },
    far: { ...plan.far, model: models.far },
  }).prediction;
  if (!now || !then) return null;
  return (
    <section>
      <h2>What that changes</h2>
      <table className="ruled">
        <thead>
          <tr>
            <th>
              <span className="visually-hidden">What</span>
            </th>
            <th className="right">Now</th>
            <th className="right">Then</th>
          </tr>
        </thead>
        <tbody>
          {ends.map((end) => (
            <tr key={end}>
              <th scope="row">Level at the {end} end</th>
              <td className="right">
                <Figure value={now[end].rslDbm} unit="dBm" />
              </td>
              <td className="right">
                <Figure value={then[end].rslDbm} unit="dBm" />
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">Margin before it drops</th>
            <td className="right">
              <Figure value={Math.min(now.near.marginDb, now.far.marginDb)} unit="dB" signed />
            </td>
            <td className="right">
              <Figure value={Math.min(then.near.marginDb, then.far.marginDb)} unit="dB" signed />
            </td>
          </tr>
          <tr>
            <th scope="row">TCP alone, near to far</th>
            <td className="right">
              <Rate mbps={now.nearToFar.aloneMbps} beside={[then.nearToFar.aloneMbps]} />
            </td>
            <td className="right">
              <Rate mbps={then.nearToFar.aloneMbps} beside={[now.nearToFar.aloneMbps]} />
            </td>
          </tr>
        </tbody>
      </table>
      <p className="note">What was proven with the gear of now is open again then.</p>
    </section>
  );
}
