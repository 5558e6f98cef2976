import type { RoundPreview, RoundSettingsBody, UserId } from '@kettle/contract';
import { purposeOf } from '@kettle/core/round';
import type { Services } from '../../platform/services';
import { computeRound, readDetails, rowsOf, nameOf } from './read-round';

const firstRows = 12;

/** How other settings would order somebody's day at once: at the prices of today, which stand. Nothing is written. */
export async function previewRound(
  services: Services,
  ownerId: UserId,
  settings: RoundSettingsBody,
): Promise<RoundPreview> {
  const { database } = services;
  const now = await computeRound(database, services, ownerId);
  const then = await computeRound(database, services, ownerId, { reckonWith: settings });
  // A row is whom it is about: with other settings another of its reasons may lead it.
  const places = new Map(rowsOf(now.cut).map((row, at) => [row.lead.group, at + 1]));
  const rows = rowsOf(then.cut);
  const first = rows.slice(0, firstRows);
  const details = await readDetails(database, first, then.facts);
  return {
    rows: first.map((row, at) => {
      const { fact, subject } = then.facts.get(row.lead.key)!;
      const was = places.get(row.lead.group)!;
      return {
        key: row.lead.key,
        contactName: nameOf(subject, details),
        purpose: purposeOf(fact),
        was,
        becomes: at + 1,
        wasAbove: was <= now.cut.above.length,
        isAbove: at < then.cut.above.length,
      };
    }),
    total: rows.length,
    moved: rows.filter((row, at) => places.get(row.lead.group) !== at + 1).length,
  };
}
