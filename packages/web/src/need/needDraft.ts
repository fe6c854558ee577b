import type { KeptNeed } from '@kivram/contract/entities/need';
import { PlaceNeedBody } from '@kivram/contract/requests/need';
import { check } from '@kivram/contract/validate';
import type { NeedsView } from '@kivram/contract/views/need';
import type { ActivityKind, PlaceNeed } from '@kivram/core/need/activity';
import type { NeedSite } from '@kivram/core/need/sum';
import { rateUnits, toMbps, type RateUnit } from '@kivram/core/throughput/unit';
import { numberIn, type TypedNumber } from '../parts/NumberField';

/** An item as it is typed. */
export interface ItemDraft {
  kind: ActivityKind;
  count: TypedNumber;
  toMbps: TypedNumber;
  fromMbps: TypedNumber;
  /** empty: the feed */
  towardPlaceId: string;
}

/** What a place needs as it is typed; shares and additions in percent. */
export interface NeedDraft {
  items: ItemDraft[];
  atOncePercent: TypedNumber;
  growthPercent: TypedNumber;
  headroomPercent: TypedNumber;
  adapterName: string;
  adapterMbps: TypedNumber;
}

export function needDraftOf(need: KeptNeed | undefined): NeedDraft {
  return {
    items: (need?.items ?? []).map((item) => ({ ...item, towardPlaceId: item.towardPlaceId ?? '' })),
    atOncePercent: need ? Math.round(100 * need.simultaneity) : 100,
    growthPercent: need?.growthPercent ?? 0,
    headroomPercent: need?.headroomPercent ?? 25,
    adapterName: need?.adapterName ?? '',
    adapterMbps: need?.adapterMbps ?? null,
  };
}

/** The request that keeps a draft. */
export function needBody(draft: NeedDraft, version: number): PlaceNeedBody {
  return {
    version,
    items: draft.items.map(({ kind, count, toMbps, fromMbps, towardPlaceId }) => ({
      kind,
      count: numberIn(count),
      toMbps: numberIn(toMbps),
      fromMbps: numberIn(fromMbps),
      towardPlaceId: towardPlaceId || null,
    })),
    simultaneity: numberIn(draft.atOncePercent) / 100,
    growthPercent: numberIn(draft.growthPercent),
    headroomPercent: numberIn(draft.headroomPercent),
    adapterName: draft.adapterName.trim(),
    adapterMbps: draft.adapterMbps === null ? null : numberIn(draft.adapterMbps),
  };
}

/** What keeps a draft from being kept, by its fields: "items.2.count", "atOncePercent". */
export function needErrors(draft: NeedDraft): Record<string, string> {
  const { errors = [] } = check(PlaceNeedBody, needBody(draft, 0));
  return Object.fromEntries(
    errors.map(({ field, message }) =>
      field === 'simultaneity' ? ['atOncePercent', 'a share from 0 to 100 %'] : [field, message],
    ),
  );
}

/** The need to reckon with; null while something in it is no number. */
export function needIn(placeId: string, draft: NeedDraft): PlaceNeed | null {
  return Object.keys(needErrors(draft)).length ? null : { placeId, ...needBody(draft, 0) };
}

/** Where needs are added up. */
export function siteOf(view: NeedsView): NeedSite {
  const { links, feedPlaceId, feedDownMbps, feedUpMbps } = view;
  const cables = view.cables.map(({ id, aPlaceId: a, bPlaceId: b, mbps }) => ({ id, a, b, mbps }));
  return { graph: { links, cables }, feedPlaceId, feedDownMbps, feedUpMbps };
}

/** Units to type a rate in, with what one of each is in Mbit/s. */
export const unitChoices: readonly { unit: RateUnit; perUnit: number }[] = rateUnits.map((unit) => ({
  unit,
  perUnit: toMbps(1, unit),
}));
