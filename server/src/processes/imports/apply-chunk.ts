import type { ContactId, LeadId, Standing } from '@kettle/contract';
import { contactPlain, type ContactPlain } from '@kettle/contract/base/catalogues';
import type { ContactDraft } from '@kettle/core/imports';
import * as z from 'zod';
import { bytesOf, idNamed, idOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import { readCustomFields, writeCustomValues } from '../../records/fields/index';
import {
  findOrMakeCompanies,
  insertContacts,
  placeKey,
  standingFor,
  type CompanyDraft,
  type NewContact,
} from '../../records/contacts/index';
import { addLead } from '../leads/index';
import { readStandings, zoneOfCountry } from '../../records/settings/index';
import { readImportTask } from './read-import';
import { readPart } from './import-rows';
import { judgeDrafts, type JudgedDraft } from './judge';
import { readImport } from './stored-import';
import { type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

export const chunkKind = 'import-chunk';
export const rowsInChunk = 250;

const payloadShape = z.object({ importId: z.uuid(), from: z.int().min(0), setId: z.uuid() });

/** What the change set of one part of a file is called. */
export const partName = (from: number) => `part ${from}`;

/**
 * Writes one part of a confirmed file. Ids come from the import and the line, and every row is judged again, so that a
 * part that runs twice, or meets rows that somebody else wrote meanwhile, makes no second copy.
 */
export const importChunk: JobKind = {
  words: $localize`one part of an import`,
  effect: 'database',
  lane: 'bulk',
  isBulk: true,
  run: async (w, payload) => {
    const { importId, from, setId } = payloadShape.parse(payload);
    w.partOf(setId, partName(from));
    const stored = await readImport(w, importId);
    // A part that failed, tried again after the import was undone.
    if (stored.state !== 'applying') return;
    if (stored.layout === null)
      // Confirmed under a version that read the file anew for each part.
      await w.services.heavy.run(readImportTask, { importId });
    const part = await readPart(w, importId, from, rowsInChunk);
    // Somebody else may have written the same people since the file was read.
    const judged = await judgeDrafts(
      w,
      part.map((draft) => ({ draft, problems: [] })),
      importId,
    );
    const isWritten = ({ verdict }: JudgedDraft) =>
      verdict === 'new' || (verdict === 'likely' && stored.withLikely);
    await writeDrafts(
      w,
      stored,
      judged.filter(isWritten).map(({ draft }) => draft),
    );
    w.note('import', importId);
  },
};

async function writeDrafts(
  w: Work,
  stored: { id: string; userId: string; leadsAs: string | null },
  drafts: readonly ContactDraft[],
): Promise<void> {
  const settings = await w.settings();
  const home = settings.organisation;
  const standings = new Map((await readStandings(w)).map((standing) => [standing.name, standing.id]));
  const owners = new Map(
    (await w.rows<Row<'app_user', 'id' | 'name'>>('SELECT id, name FROM app_user ORDER BY id')).map((row) => [
      row.name,
      idOf<string>(row.id),
    ]),
  );
  const companies = await findOrMakeCompanies(
    w,
    drafts.filter(({ company }) => company !== '').map((draft) => companyDraft(draft, stored.userId, home)),
  );
  const standingBySource = new Map<string, Promise<Pick<Standing, 'id'>>>();
  const standingOf = (source: string) => {
    const known = standingBySource.get(source) ?? standingFor(w, settings, source);
    standingBySource.set(source, known);
    return known;
  };
  const people = new Map<ContactId, ContactDraft>();
  const contacts: NewContact[] = [];
  for (const draft of drafts) {
    if (!draft.givenName && !draft.familyName) continue;
    const company = draft.company === '' ? undefined : companies.get(placeKey(draft.company, draft.country));
    const id = idNamed<ContactId>(`line ${draft.line}`, stored.id);
    people.set(id, draft);
    contacts.push({
      id,
      givenName: draft.givenName,
      familyName: draft.familyName,
      ...(contactPlain.each((key) => draft[key] || null) as ContactPlain),
      companyId: company?.id ?? null,
      companyName: company?.name ?? null,
      email: draft.email || null,
      phone: draft.phone || null,
      country: draft.country,
      zone: draft.zone || zoneOf(draft.country, home),
      // The country's own is what it would have anyhow, and follows it.
      zoneByHand: draft.zone !== '' && draft.zone !== zoneOf(draft.country, home),
      category: draft.category,
      standingId: standings.get(draft.standing) ?? (await standingOf(draft.source || 'import')).id,
      // Whose a lead's contact is follows from the rule for new leads, unless the file says it.
      ownerId: owners.get(draft.owner) ?? (stored.leadsAs === null ? stored.userId : null),
      source: draft.source || 'import',
      about: draft.note,
      checkInDays: draft.checkInDays,
      importId: stored.id,
    });
  }
  const written = [...(await insertContacts(w, contacts))].map((id) => ({
    id,
    draft: people.get(id)!,
  }));
  const tags = written.flatMap(({ id, draft }) => draft.tags.map((tag) => [bytesOf(id), tag]));
  if (tags.length > 0)
    await w.change('INSERT IGNORE INTO contact_tag (contact_id, tag) VALUES :rows', { rows: tags });
  const ofLeads = new Set((await readCustomFields(w, 'lead')).map(({ id }): string => id));
  for (const { id, draft } of written) {
    const custom = Object.entries(draft.custom);
    const of = (isOfLead: boolean) =>
      Object.fromEntries(custom.filter(([field]) => ofLeads.has(field) === isOfLead));
    await writeCustomValues(w, 'contact', id, of(false));
    if (stored.leadsAs !== null) await addLeadOf(w, stored, { ...draft, custom: of(true) }, id);
  }
}

/** The lead's id comes from the contact's, so that a part that runs twice makes no second one. */
async function addLeadOf(
  w: Work,
  stored: { id: string; leadsAs: string | null },
  draft: ContactDraft,
  contactId: ContactId,
): Promise<void> {
  const subject =
    draft.note.split('\n', 1)[0]?.trim().slice(0, 160) || stored.leadsAs || $localize`from a file`;
  const origin = { source: draft.source || 'import', campaign: stored.leadsAs, importId: stored.id };
  await addLead(
    w,
    { contactId },
    {
      id: idNamed<LeadId>('lead', contactId),
      subject,
      about: draft.note,
      warmth: draft.warmth || null,
      custom: draft.custom,
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

function companyDraft(draft: ContactDraft, ownerId: string, home: Home): CompanyDraft {
  const { country, city, street, postcode, website } = draft;
  return {
    name: draft.company,
    country,
    zone: zoneOf(country, home),
    city: city || null,
    street: street || null,
    postcode: postcode || null,
    website: website || null,
    ownerId,
  };
}
