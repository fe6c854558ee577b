import type { LinkEnd } from '@kivram/contract/views/link';
import { ends } from '@kivram/core/budget/plan';
import { pairingKindWords, type Model } from '@kivram/core/gear/model';

/** What the spec sheets say of radios that come out of their boxes: where each is found, and how it is paired. */
export function OutOfTheBox({ near, far }: { near: LinkEnd; far: LinkEnd }) {
  const models = { near: near.model, far: far.model };
  const alike = near.model.id === far.model.id && boxWords(near.model) === boxWords(far.model);
  const said = (alike ? (['near'] as const) : ends).flatMap((end) => {
    const words = boxWords(models[end]);
    return words ? [{ end, words }] : [];
  });
  const { factoryAddress } = near.model;
  const collide = factoryAddress !== undefined && factoryAddress === far.model.factoryAddress;
  if (!said.length) return null;
  return (
    <section className="bench-box">
      {said.map(({ end, words }) => (
        <p key={end} className="note">
          {alike ? <strong>both ends</strong> : <strong className={end}>{end} end</strong>}, {models[end].name}: {words}
        </p>
      ))}
      {collide && (
        <p className="note">
          <strong>Both are at {factoryAddress} out of the box</strong>: give the access point its own address before the
          other one is plugged in.
        </p>
      )}
    </section>
  );
}

function boxWords({ factoryAddress, pairingKind }: Model): string {
  return [
    factoryAddress && `out of the box at ${factoryAddress}`,
    pairingKind && `pairing: ${pairingKindWords[pairingKind]}`,
  ]
    .filter(Boolean)
    .join('; ');
}
