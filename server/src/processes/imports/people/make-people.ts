import type { ContactId, LeadId, Standing } from '@kettle/contract';
import { contactPlain, type ContactPlain } from '@kettle/contract/base/catalogues';
import type { ContactDraft } from '@kettle/core/imports';
import type { Row } from '../../../platform/database/schema.generated';
import { bytesOf, idNamed, idOf } from '../../../platform/ids';
import type { Work } from '../../../platform/work/work';
import {
  findOrMakeCompanies,
  insertContacts,
  placeKey,
  standingFor,
  type CompanyDraft,
  type NewContact,
} from '../../../records/contacts/index';
import { readCustomFields, writeCustomValues } from '../../../records/fields/index';
import { readStandings, zoneAt } from '../../../records/settings/index';
import { addLead } from '../../leads/index';

/** Adds people, each with the lead it is to become. Ids come from the import and the line, so that a part that runs twice makes no second one. */
export async function makePeople(
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
      zone: draft.zone || zoneAt(draft.country, home),
      // The country's own is what it would have anyhow, and follows it.
      zoneByHand: draft.zone !== '' && draft.zone !== zoneAt(draft.country, home),
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

function companyDraft(draft: ContactDraft, ownerId: string, home: Home): CompanyDraft {
  const { country, city, street, postcode, website } = draft;
  return {
    name: draft.company,
    country,
    zone: zoneAt(country, home),
    city: city || null,
    street: street || null,
    postcode: postcode || null,
    website: website || null,
    ownerId,
  };
}
