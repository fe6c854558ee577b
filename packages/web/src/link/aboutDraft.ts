import type { LinkEnd, LinkView } from '@kivram/contract/views/link';
import type { End } from '@kivram/core/budget/plan';

/** One end as it is typed: where it is, with what, and what is on its label. */
export interface EndDraft {
  placeId: string;
  modelId: string;
  modelRevision: number;
  serial: string;
  mac: string;
  note: string;
}

/** A link itself as it is typed. */
export interface AboutDraft {
  name: string;
  near: EndDraft;
  far: EndDraft;
}

export function endDraft({ radio }: LinkEnd): EndDraft {
  const { placeId, modelId, modelRevision, serial, mac, note } = radio;
  return { placeId, modelId, modelRevision, serial: serial ?? '', mac: mac ?? '', note };
}

/** What is typed as a change of the plan: only what differs, so that what others change meanwhile stays. */
export function bodyOf({ link, near, far }: LinkView, draft: AboutDraft, base: string): object {
  const [version = 0, nearVersion = 0, farVersion = 0] = base.split(',').map(Number);
  const part = (end: End, at: LinkEnd, radioVersion: number): object => {
    const before = endDraft(at);
    const { placeId, modelId, modelRevision, serial, mac, note } = draft[end];
    const changes = {
      ...(placeId !== before.placeId && { placeId }),
      ...(modelId !== before.modelId ? { modelId } : modelRevision !== before.modelRevision && { modelRevision }),
      ...(serial.trim() !== before.serial && { serial: serial.trim() || null }),
      ...(mac.trim() !== before.mac && { mac: mac.trim() || null }),
      ...(note !== before.note && { note }),
    };
    return Object.keys(changes).length ? { [end]: { version: radioVersion, ...changes } } : {};
  };
  return {
    version,
    ...(draft.name.trim() !== link.name && { name: draft.name.trim() }),
    ...part('near', near, nearVersion),
    ...part('far', far, farVersion),
  };
}
