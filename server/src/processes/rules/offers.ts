import type { RuleOffer, StageId, StandingId, TemplateId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { idOf, type IdBytes } from '../../platform/ids';
import type { AllSettings } from '../../records/settings/index';

const missedOutcomes: ReadonlySet<string> = new Set(['meeting-missed', 'visit-nobody']);
const usual = { if: null, isOn: false, missed: 'catch-up', perDay: 200 } as const;

/** Rules that ship: read, changed and kept like one’s own. What an installation lacks, such as a text, leaves its rule out. */
export async function offeredRules(db: Queryable, { outcomes }: AllSettings): Promise<RuleOffer[]> {
  const [customer] = await db.rows<{ id: IdBytes<StandingId> }>(
    "SELECT id FROM standing WHERE standing_group = 'customer' ORDER BY position, id LIMIT 1",
  );
  const stages = await db.rows<{ id: IdBytes<StageId> }>(
    `SELECT s.id FROM stage s JOIN pipeline p ON p.id = s.pipeline_id
      WHERE p.id = (SELECT id FROM pipeline ORDER BY position, id LIMIT 1) ORDER BY s.position, s.id`,
  );
  const [text] = await db.rows<{ id: IdBytes<TemplateId> }>(
    "SELECT id FROM template WHERE channel = 'text' AND retired_at IS NULL ORDER BY name, id LIMIT 1",
  );
  const missed = outcomes.list.map(({ id }) => id).filter((id) => missedOutcomes.has(id));
  const offer = stages[Math.floor(stages.length / 2)];
  const task = { kind: 'task', channel: 'call', minutes: 6, ownerId: null } as const;
  return [
    {
      ...usual,
      ...{ key: 'welcome', name: $localize`Welcome after winning`, subject: 'deal' },
      when: { kind: 'event', event: 'deal.closed', to: ['won'] },
      then: [
        ...(customer ? [{ kind: 'standing', standingId: idOf<StandingId>(customer.id) } as const] : []),
        { ...task, inDays: 14, purpose: $localize`How did it start? What is missing?` },
      ],
    },
    {
      ...usual,
      ...{ key: 'renewal-step', name: $localize`The renewal step`, subject: 'agreement' },
      when: { kind: 'event', event: 'agreement.due', to: [] },
      then: [{ kind: 'renewal' }],
    },
    {
      ...usual,
      ...{ key: 'ask-parked', name: $localize`Ask again when a parked deal wakes`, subject: 'deal' },
      when: { kind: 'date', date: 'wake', days: 0 },
      then: [{ ...task, inDays: 0, purpose: $localize`Ask again: is it time?` }],
    },
    {
      ...usual,
      ...{ key: 'ask-again', name: $localize`Ask again when a deal was lost`, subject: 'deal' },
      when: { kind: 'event', event: 'deal.closed', to: ['lost'] },
      then: [{ ...task, inDays: 180, purpose: $localize`Ask again: has anything changed?` }],
    },
    ...(offer
      ? [
          {
            ...usual,
            ...({
              key: 'stop-cadences',
              name: $localize`No cadence beside an offer`,
              subject: 'deal',
            } as const),
            when: { kind: 'event' as const, event: 'deal.moved' as const, to: [idOf<string>(offer.id)] },
            then: [{ kind: 'stop-cadences' as const }],
          },
        ]
      : []),
    ...(missed.length > 0
      ? [
          {
            ...usual,
            ...({ key: 'missed', name: $localize`After a missed appointment`, subject: 'contact' } as const),
            when: { kind: 'event' as const, event: 'touch.logged' as const, to: missed },
            then: [
              text
                ? ({ kind: 'text', templateId: idOf<TemplateId>(text.id) } as const)
                : { ...task, inDays: 1, purpose: $localize`Agree another time` },
            ],
          },
        ]
      : []),
    {
      ...usual,
      ...{ key: 'renewal', name: $localize`Two weeks before a renewal begins`, subject: 'agreement' },
      when: { kind: 'date', date: 'lead', days: -14 },
      then: [{ ...task, inDays: 0, purpose: $localize`Before the renewal: is everything in order?` }],
    },
    {
      ...usual,
      ...{ key: 'quiet', name: $localize`Customers gone quiet`, subject: 'contact' },
      when: { kind: 'silence', days: 90 },
      then: [{ kind: 'notify', to: ['owner'], words: $localize`Nobody had contact for 90 days` }],
    },
  ];
}
