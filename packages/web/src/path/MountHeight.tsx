import { RadioBody } from '@kivram/contract/requests/plan';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { LinkEnd } from '@kivram/contract/views/link';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { numberIn, NumberField, type TypedNumber } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { sendDraft, useChange } from '../queries';
import { useSettings } from '../settings';
import { metresPerUnit, unitSuffix } from './ticks';

/** A mount's height, typed in place: everything recomputes when it is left. */
export function MountHeight({ end }: { end: LinkEnd }) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const change = useChange(routes.changeRadio, { radioId: end.radio.id });
  const draft = useDraft<TypedNumber>(
    `radio/${end.radio.id}/mount-height`,
    end.radio.mountHeightM,
    String(end.radio.version),
  );
  const mountHeightM = numberIn(draft.value);
  const error = check(RadioBody, { version: 0, mountHeightM }).errors?.[0]?.message;
  const save = (): void => {
    if (draft.changed && !draft.stale && !error)
      sendDraft(change, { version: end.radio.version, mountHeightM }, draft.send(), true);
  };
  return (
    <>
      <NumberField
        aria-label={`Mounted above ground at ${end.place.name}`}
        value={draft.value}
        onChange={(value) => draft.set(() => value)}
        error={error}
        onBlur={save}
        onKeyDown={(event) => event.key === 'Enter' && save()}
        unit={unitSuffix(units)}
        perUnit={perUnit}
        digits={2}
        w={130}
        maw="100%"
        size="sm"
      />
      <Clash draft={draft} what="This height" />
      <Problem error={change.error} />
    </>
  );
}
