import type { ThroughputTest } from '@kivram/contract/views/test';
import { stringify } from 'csv-stringify/sync';

/** A link's throughput tests as CSV (RFC 4180), units in the heading. */
export function testsCsv(tests: readonly ThroughputTest[], crewName: (id: string | null) => string): string {
  return stringify(
    tests.map((t) => ({
      at: t.at,
      direction: t.direction,
      protocol: t.protocol,
      throughput_mbps: t.mbps.toFixed(3),
      duration_s: t.seconds?.toFixed(1) ?? '',
      retransmits: t.retransmits ?? '',
      loss_percent: t.lossShare === null ? '' : (100 * t.lossShare).toFixed(3),
      jitter_ms: t.jitterMs?.toFixed(3) ?? '',
      both_directions_loaded: t.bothLoaded ? 'yes' : 'no',
      streams: t.conditions?.streams ?? '',
      target_mbps: t.conditions?.targetMbps ?? '',
      omitted_s: t.conditions?.omittedSeconds.toFixed(1) ?? '',
      aborted: t.aborted ? 'yes' : 'no',
      source: t.source,
      file: t.fileName ?? '',
      verdict: t.verdict.state,
      bottleneck: t.verdict.bottleneck,
      reason: t.verdict.reason,
      note: t.note,
      crew_member: crewName(t.crewMemberId),
    })),
    // A cell that begins like a formula would run in a spreadsheet.
    { header: true, escape_formulas: true },
  );
}
