import type { ContactId, LeadStatus, Outcome, Warmth } from '@kettle/contract';
import { findOutcome } from '@kettle/core/touch';
import { addDays } from '@kettle/core/time';
import type { WithKeys } from '@kettle/server/platform/database/database';
import { writingAt } from '@kettle/server/platform/work/work';
import { sqlInstant } from '@kettle/server/platform/database/values';
import { insertEntries, writeSystemEntry } from '@kettle/server/records/entries/index';
import { readStandings } from '@kettle/server/records/settings/index';
import { insertContact } from '@kettle/server/records/contacts/index';
import { bytesOf, newId } from '@kettle/server/platform/ids';
import type { Services } from '@kettle/server/platform/services';
import type { Made } from './made';
import { momentAgo, zone } from './moments';
import type { Scenario } from './scenario';
import type { Work } from '@kettle/server/platform/work/work';

interface DemoLead {
  readonly givenName: string;
  readonly familyName: string;
  readonly company: string | null;
  readonly subject: string;
  readonly about: string;
  readonly source: string;
  readonly campaign: string | null;
  readonly warmth: Warmth | null;
  /** Place among the users; null is the pool. */
  readonly owner: number | null;
  readonly daysAgo: number;
  readonly minute: number;
  /** Outcomes logged since, a day apart. */
  readonly tries: readonly string[];
  readonly followUpInDays: number | null;
  readonly aside?: { readonly reason: string; readonly wakeInDays: number | null };
}

const lead = (
  name: string,
  company: string | null,
  subject: string,
  part: Partial<Omit<DemoLead, 'givenName' | 'familyName' | 'company' | 'subject'>> = {},
): DemoLead => {
  const [givenName, ...family] = name.split(' ');
  return {
    givenName: givenName!,
    familyName: family.join(' '),
    company,
    subject,
    about: '',
    source: 'web site',
    campaign: null,
    warmth: null,
    owner: 0,
    daysAgo: 0,
    minute: 505,
    tries: [],
    followUpInDays: null,
    ...part,
  };
};

const fair = { source: 'fair', campaign: 'Marrowdale Show' };

const leads: readonly DemoLead[] = [
  lead('Nora Pell', 'Pell Spa', 'Hard water in two steam rooms', {
    warmth: 'hot',
    about:
      'Hard water in two steam rooms.\nThe valves scale up every month. Can somebody come and look before Christmas?',
  }),
  lead('Edda Corran', 'Corran Bakehouse', 'A quote for a dosing set', { minute: 470, warmth: 'warm' }),
  lead('Piers Hallam', 'Hallam Car Wash', 'Spots on dark cars', { daysAgo: 1, minute: 930, ...fair }),
  lead('Tilda Voss', null, 'Softener for a private house', { owner: null, minute: 440 }),
  lead('Bram Osterly', 'Osterly Inn', 'Filtration behind the bar', {
    owner: null,
    daysAgo: 1,
    minute: 800,
    ...fair,
  }),
  lead('Jonas Thrale', 'Thrale Laundry', 'Wants to compare running costs', {
    owner: null,
    daysAgo: 2,
    minute: 700,
    warmth: 'cool',
  }),
  lead('Maren Lusk', 'Lusk & Daughter', 'Boiler water for a small brewery', {
    daysAgo: 6,
    tries: ['call-no-answer', 'email-sent'],
    followUpInDays: 0,
    ...fair,
  }),
  lead('Alban Reeve', 'Reeve Clinic', 'Water for two autoclaves', {
    daysAgo: 9,
    tries: ['call-no-answer', 'call-voicemail', 'email-sent'],
    warmth: 'warm',
  }),
  lead('Sunniva Dale', 'Dale Hotel', 'Asks about service agreements', {
    daysAgo: 8,
    tries: ['email-sent', 'call-spoke'],
    warmth: 'hot',
    followUpInDays: 2,
  }),
  lead('Cormac Teague', 'Teague Creamery', 'Reverse osmosis, maybe in spring', {
    daysAgo: 14,
    tries: ['call-spoke'],
    source: 'word of mouth',
    followUpInDays: 1,
  }),
  lead('Inga Hollis', 'Hollis Nursery', 'Rain water, not our trade', {
    daysAgo: 30,
    tries: ['call-spoke'],
    aside: { reason: 'no need', wakeInDays: null },
  }),
  lead('Rowan Askew', 'Askew Brewing', 'New brewhouse next year', {
    daysAgo: 41,
    tries: ['call-spoke'],
    ...fair,
    aside: { reason: 'building work first', wakeInDays: 0 },
  }),
  lead('Petra Lind', 'Lind Bakery', 'Asks for a survey', { owner: 1, daysAgo: 0, minute: 480 }),
  lead('Fergus Amory', 'Amory Wash', 'Two bays, one softener', {
    owner: 2,
    daysAgo: 3,
    tries: ['call-no-answer'],
  }),
];

/** Leads of every status, the form they come by, and who gets them. */
export async function writeLeads(
  tx: Work,
  demo: Services,
  scenario: Scenario,
  made: Made,
  today: string,
): Promise<void> {
  const now = demo.clock.now();
  const formId = newId<string>();
  await writeForm(tx, formId, now);
  await tx.change("INSERT INTO setting (name, value) VALUES ('leads', :value)", {
    value: JSON.stringify({ version: 1, ownerRule: { kind: 'pool' } }),
  });
  const standing = (await readStandings(tx)).find(({ isDefault }) => isDefault)!;
  for (const [index, each] of leads.entries()) {
    const owner = each.owner === null ? null : made.users[each.owner]!;
    const id = newId<ContactId>();
    const at = momentAgo(today, each.daysAgo, each.minute);
    const contact = {
      ...{ id, givenName: each.givenName, familyName: each.familyName, jobTitle: null },
      ...{
        companyId: null,
        companyName: null,
        country: 'GB',
        zone,
        source: each.source,
        about: '',
        checkInDays: null,
      },
      email:
        `${each.givenName}.${each.familyName}@${(each.company ?? each.familyName).replace(/[^a-z]/gi, '')}.example`.toLowerCase(),
      phone: `+4416329607${String(10 + index).padStart(2, '0')}`,
      standingId: standing.id,
      ownerId: owner,
      importId: null,
    };
    await insertContact(writingAt(tx, at), contact);
    const byForm = each.source === 'web site' ? formId : null;
    await insertLead(tx, { ...each, id: newId<string>(), contactId: id, owner, at, byForm, today });
    await logTries(tx, each, { contactId: id, userId: owner ?? made.users[0]!, today, now });
  }
  await writeDecided(tx, scenario, made, today);
  await tx.derive();
}

const consentWords =
  'Hollin Beck Water Care may write and call me about this. I can take that back at any time.';

async function writeForm(tx: WithKeys, id: string, now: string): Promise<void> {
  await tx.change(
    `INSERT INTO web_form (id, form_key, name, title, asks_phone, asks_company, asks_postcode, consent_words, thanks, source,
        campaign, is_open, origins, created_at)
     VALUES (:id, 'ask-hollin-beck', 'Web site', 'Ask us about your water', 1, 1, 1,
        :consentWords,
        'Thank you. Somebody calls you back within a working day.', 'web site', NULL, 1, '[]', :now)`,
    { id: bytesOf(id), consentWords, now: sqlInstant(now) },
  );
}

interface StoredLead extends Omit<DemoLead, 'owner'> {
  readonly id: string;
  readonly contactId: string;
  readonly owner: string | null;
  readonly at: string;
  readonly byForm: string | null;
  readonly today: string;
}

async function insertLead(tx: WithKeys, each: StoredLead): Promise<void> {
  const status: LeadStatus = each.aside ? 'set-aside' : 'untried';
  const inDays = (days: number | null | undefined) =>
    days === null || days === undefined ? null : addDays(each.today, days);
  await tx.change(
    `INSERT INTO sales_lead (id, contact_id, owner_id, status, status_since, hand_status, hand_at, warmth, subject, about,
        company_name, source, campaign, follow_up_on, form_id, consent_words, consent_at, aside_reason, wake_on, created_at)
     VALUES (:id, :contact, :owner, :status, :at, :status, :at, :warmth, :subject, :about, :company, :source, :campaign,
        :followUp, :form, :consent, IF(:form IS NULL, NULL, :at), :reason, :wake, :at)`,
    {
      id: bytesOf(each.id),
      contact: bytesOf(each.contactId),
      owner: bytesOf(each.owner),
      status,
      at: sqlInstant(each.at),
      warmth: each.warmth,
      subject: each.subject,
      about: each.about,
      company: each.company,
      source: each.source,
      campaign: each.campaign,
      followUp: inDays(each.followUpInDays),
      form: bytesOf(each.byForm),
      consent: each.byForm ? consentWords : null,
      reason: each.aside?.reason ?? null,
      wake: inDays(each.aside?.wakeInDays),
    },
  );
  await writeSystemEntry(writingAt(tx, each.at), {
    body: `Lead: ${each.subject} (${each.source})`,
    contactId: each.contactId,
  });
}

async function logTries(
  tx: WithKeys,
  each: DemoLead,
  about: { contactId: string; userId: string; today: string; now: string },
): Promise<void> {
  const entries = each.tries.map((name, index) => {
    const outcome = findOutcome(name) as Outcome;
    return {
      id: newId<string>(),
      at: momentAgo(about.today, each.daysAgo - 1 - index, 640 + 20 * index),
      kind: outcome.kind,
      direction: outcome.direction,
      outcomeId: outcome.id,
      outcomeLabel: outcome.label,
      counts: outcome.counts,
      minutes: outcome.counts === 'conversation' ? 8 : 2,
      body: outcome.counts === 'conversation' ? 'A first talk; they know what it costs to wait.' : '',
      userId: about.userId,
      contactId: about.contactId,
      companyId: null,
      dealId: null,
      taskId: null,
      runId: null,
    };
  });
  await insertEntries(writingAt(tx, about.now), entries);
}

/** Leads of the last two years that became deals, and as many that were set aside, all in the archive. */
async function writeDecided(tx: WithKeys, scenario: Scenario, made: Made, today: string): Promise<void> {
  const closed = scenario.deals
    .map((deal, index) => ({ deal, id: made.deals[index]! }))
    .filter(({ deal }) => deal.status !== 'open');
  const sources = ['web site', 'fair', 'word of mouth', 'cold call'];
  const rows = closed.slice(0, 120).map(({ deal, id }, index) => {
    const isQualified = index % 5 < 3;
    const at = sqlInstant(momentAgo(today, deal.madeDaysAgo + 9, 600));
    const status = isQualified ? 'qualified' : 'set-aside';
    return [
      bytesOf(newId<string>()),
      bytesOf(made.contacts[deal.contact]),
      bytesOf(made.users[scenario.contacts[deal.contact]!.owner ?? 0]),
      status,
      at,
      status,
      at,
      'an inquiry',
      sources[index % sources.length]!,
      isQualified ? bytesOf(id) : null,
      isQualified ? null : 'no need',
      at,
      at,
    ];
  });
  await tx.change(
    `INSERT INTO sales_lead (id, contact_id, owner_id, status, status_since, hand_status, hand_at, subject, source, deal_id,
        aside_reason, archived_at, created_at) VALUES :rows`,
    { rows: rows as (string | Buffer)[][] },
  );
  await tx.change(
    'UPDATE deal d JOIN sales_lead l ON l.deal_id = d.id SET d.lead_id = l.id, d.source = l.source',
  );
}
