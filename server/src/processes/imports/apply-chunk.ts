import type { ContactId, LeadId } from '@kettle/contract';
import type { ContactDraft } from '@kettle/core/imports';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { bytesOf, idNamed, idOf, type IdBytes } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { writeCustomValues } from '../../records/fields/custom-fields';
import { noteChange } from '../../platform/change-feed/feed';
import { refreshTouchFacts } from '../../activity/touch/touch-facts';
import { standingFor } from '../../records/contacts/change-contact';
import { addLead } from '../leads/add-lead';
import { readStandings } from '../../records/contacts/standings';
import { findOrMakeCompany, insertContact } from '../../records/contacts/write-contact';
import { zoneOfCountry } from '../../records/settings/calendars';
import { judgeFile } from './judge';
import { readFile } from './read-file';
import { judgeSetting, readImport } from './stored-import';

export const chunkKind = 'import-chunk';
export const rowsInChunk = 250;

const payloadShape = z.object({ importId: z.uuid(), from: z.int().min(0) });

/**
 * Writes one part of a confirmed file. Ids come from the import and the line, and every row is judged again, so that a
 * part that runs twice, or meets rows that somebody else wrote meanwhile, makes no second copy.
 */
export function importChunk(services: Services): JobKind {
  return {
    effect: 'database',
    run: async (tx, payload) => {
      const { importId, from } = payloadShape.parse(payload);
      const stored = await readImport(tx, importId);
      const file = readFile(stored, await judgeSetting(tx, services));
      const { fresh, likely } = await judgeFile(tx, file, importId);
      const written = stored.withLikely ? [...fresh, ...likely] : fresh;
      const part = file.drafts.slice(from, from + rowsInChunk).map((each) => each.draft.line);
      const lines = new Set(part);
      await writeDrafts(
        tx,
        services,
        stored,
        written.filter((draft) => lines.has(draft.line)),
      );
      await noteChange(tx, 'import', importId, stored.userId);
    },
  };
}

async function writeDrafts(
  tx: Queryable,
  services: Services,
  stored: { id: string; userId: string; leadsAs: string | null },
  drafts: readonly ContactDraft[],
): Promise<void> {
  const settings = await services.settings.read(tx);
  const standings = new Map((await readStandings(tx)).map((standing) => [standing.name, standing.id]));
  const owners = new Map(
    (await tx.rows<{ id: IdBytes; name: string }>('SELECT id, name FROM app_user ORDER BY id')).map((row) => [
      row.name,
      idOf<string>(row.id),
    ]),
  );
  const now = services.clock.now();
  for (const draft of drafts) {
    const company = await companyOf(tx, draft, stored.userId, settings.organisation, now);
    if (!draft.givenName && !draft.familyName) continue;
    const id = idNamed<ContactId>(`line ${draft.line}`, stored.id);
    const contact = {
      id,
      givenName: draft.givenName,
      familyName: draft.familyName,
      jobTitle: draft.jobTitle || null,
      companyId: company?.id ?? null,
      companyName: company?.name ?? null,
      email: draft.email || null,
      phone: draft.phone || null,
      country: draft.country,
      zone: zoneOf(draft.country, settings.organisation),
      standingId:
        standings.get(draft.standing) ?? (await standingFor(tx, settings, draft.source || 'import')).id,
      // Whose a lead's contact is follows from the rule for new leads, unless the file says it.
      ownerId: owners.get(draft.owner) ?? (stored.leadsAs === null ? stored.userId : null),
      warmth: draft.warmth || null,
      source: draft.source || 'import',
      about: draft.note,
      checkInDays: null,
      importId: stored.id,
    };
    if (!(await insertContact(tx, contact, now))) continue;
    if (draft.tags.length > 0)
      await tx.change('INSERT IGNORE INTO contact_tag (contact_id, tag) VALUES :rows', {
        rows: draft.tags.map((tag) => [bytesOf(id), tag]),
      });
    await writeCustomValues(tx, 'contact', id, draft.custom);
    await refreshTouchFacts(tx, services, settings, id);
    if (stored.leadsAs !== null) await addLeadOf(tx, services, stored, draft, id);
  }
}

/** The lead's id comes from the contact's, so that a part that runs twice makes no second one. */
async function addLeadOf(
  tx: Queryable,
  services: Services,
  stored: { id: string; leadsAs: string | null },
  draft: ContactDraft,
  contactId: ContactId,
): Promise<void> {
  const subject = draft.note.split('\n', 1)[0]?.trim().slice(0, 160) || stored.leadsAs || 'from a file';
  const origin = { source: draft.source || 'import', campaign: stored.leadsAs, importId: stored.id };
  await addLead(
    tx,
    services,
    { who: null },
    { contactId },
    {
      id: idNamed<LeadId>('lead', contactId),
      subject,
      about: draft.note,
      warmth: draft.warmth || null,
      followUpOn: null,
      link: null,
      ...origin,
    },
  );
}

interface Home {
  readonly homeCountry: string;
  readonly homeZone: string;
}

const zoneOf = (country: string, home: Home) =>
  country === home.homeCountry ? home.homeZone : zoneOfCountry(country, home.homeZone);

async function companyOf(tx: Queryable, draft: ContactDraft, ownerId: string, home: Home, now: string) {
  if (!draft.company) return null;
  const { country, city, street, postcode, website } = draft;
  const place = {
    country,
    city: city || null,
    street: street || null,
    postcode: postcode || null,
    website: website || null,
  };
  return findOrMakeCompany(tx, { name: draft.company, zone: zoneOf(country, home), ownerId, ...place }, now);
}
