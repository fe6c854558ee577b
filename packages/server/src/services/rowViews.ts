import type { Air } from '@kivram/contract/entities/air';
import type { Job } from '@kivram/contract/entities/job';
import type { Link } from '@kivram/contract/entities/link';
import type { Place } from '@kivram/contract/entities/place';
import type { Radio } from '@kivram/contract/entities/radio';
import type { SheetRevision } from '@kivram/contract/views/link';
import type { ThroughputTest } from '@kivram/contract/views/test';
import type { Sheet } from '@kivram/core/pairing/sheet';
import type { AirRow } from '../database/models/air';
import type { JobRow } from '../database/models/job';
import type { LinkRow } from '../database/models/link';
import type { PlaceRow } from '../database/models/place';
import type { RadioRow } from '../database/models/radio';
import type { SheetRow } from '../database/models/sheet';
import type { ThroughputTestRow } from '../database/models/throughputTest';

// Rows as they cross the wire: without what is the server's own business.

export function viewJob(row: JobRow): Job {
  const { id, name, customer, country, units, practice, climateClass, rainMmPerH, archivedAt, version } = row;
  return {
    id,
    name,
    customer,
    country,
    units,
    practice,
    climateClass: climateClass ?? null,
    rainMmPerH: rainMmPerH ?? null,
    archivedAt: archivedAt?.toISOString() ?? null,
    version,
  };
}

export function viewPlace(row: PlaceRow): Place {
  const { id, name, latitudeDeg, longitudeDeg, groundHeightM, kind, note, version } = row;
  return { id, name, latitudeDeg, longitudeDeg, groundHeightM, kind, note, version };
}

export function viewAir(row: AirRow): Air {
  const { id, kind, centreMHz, returnMHz, widthMHz, protocol, errorCorrection, licenceId, version } = row;
  return {
    id,
    kind,
    centreMHz,
    returnMHz: returnMHz ?? null,
    widthMHz,
    protocol,
    errorCorrection,
    licenceId: licenceId ?? null,
    version,
  };
}

export function viewRadio(row: RadioRow): Radio {
  const { jobId, mountedAt, ...rest } = row.get({ plain: true });
  void jobId;
  return { ...rest, mountedAt: mountedAt?.toISOString() ?? null };
}

export function viewLinkRow(row: LinkRow): Link {
  return row.get({ plain: true });
}

export function viewSheet(row: SheetRow): Sheet {
  const { radioId, revision, savedAt, crewMemberId, ...sheet } = row.get({ plain: true });
  void [radioId, revision, savedAt, crewMemberId];
  return sheet;
}

export function viewSheetRevision(row: SheetRow): SheetRevision {
  return {
    radioId: row.radioId,
    revision: row.revision,
    savedAt: row.savedAt.toISOString(),
    crewMemberId: row.crewMemberId,
    sheet: viewSheet(row),
  };
}

export function viewTest(row: ThroughputTestRow): ThroughputTest {
  const { linkId, raw, sha256, at, basis, expectedMbps, ...rest } = row.get({ plain: true });
  void [linkId, raw, sha256, basis, expectedMbps];
  return { ...rest, at: at.toISOString() };
}
