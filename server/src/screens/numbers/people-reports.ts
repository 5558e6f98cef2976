import type { ReportRow } from '@kettle/contract/numbers/kinds';
import { idOf, type IdBytes } from '../../platform/ids';
import { leadFacts } from '../../processes/leads/index';
import { closedDeals, wonColumns } from './closed-deals';
import type { Definition } from './definition';
import type { FactColumn } from './facts';
import { idKey, isAsked, type Scope } from './scope';

const leadKeys: Partial<Record<ReportRow, string>> = {
  source: 'l.source',
  owner: `COALESCE(${idKey('l.owner_id')}, '')`,
  reason: 'l.aside_reason',
  month: "DATE_FORMAT(l.created_at, '%Y-%m')",
};

const leadsOf = (scope: Scope) =>
  leadFacts({ key: leadKeys[scope.by] ?? "''", conditions: isAsked(scope, 'lead', 'l') });

const began = (): FactColumn => ({
  ...{ key: 'began', words: $localize`leads`, of: 'TRUE', as: { kind: 'count' } },
  how: $localize`Leads that began in the period, archived ones too.`,
});
const qualified = (): FactColumn => ({
  ...{ key: 'qualified', words: $localize`qualified`, of: 'f.qualified', as: { kind: 'share', in: 'TRUE' } },
  how: $localize`Of those, the ones that became a deal.`,
});

/** Where leads drop off. */
export const dropOffReport: Definition = {
  facts: (_, scope) => [
    {
      record: 'lead',
      sql: leadsOf(scope),
      columns: [
        began(),
        {
          ...{ key: 'tried', words: $localize`tried`, of: 'f.tried', as: { kind: 'share', in: 'TRUE' } },
          how: $localize`Somebody tried to reach the person since the lead began.`,
        },
        {
          ...{
            key: 'talked',
            words: $localize`spoken with`,
            of: 'f.talked',
            as: { kind: 'share', in: 'TRUE' },
          },
          how: $localize`There was a conversation since the lead began.`,
        },
        qualified(),
        {
          ...{ key: 'aside', words: $localize`set aside`, of: 'f.aside', as: { kind: 'count' } },
          how: $localize`Given up, with a reason.`,
        },
      ],
    },
  ],
  drawn: { as: 'bars', columns: ['tried', 'talked', 'qualified'] },
};

/** Which source pays. */
export const sourcesReport: Definition = {
  facts: (_, scope) => [
    closedDeals(scope, scope.by, [
      ...wonColumns(),
      {
        ...{ key: 'mean', words: $localize`value of one`, of: 'f.won' },
        as: { kind: 'mean-money', amount: 'f.minor' },
        how: $localize`What a won deal came to, in the mean.`,
      },
      {
        ...{
          key: 'days',
          words: $localize`days to win`,
          of: 'f.won',
          as: { kind: 'middle', days: 'f.days' },
        },
        how: $localize`The middle of the days from when a deal was added to when it was won.`,
      },
    ]),
    { record: 'lead', sql: leadsOf(scope), columns: [began(), qualified()] },
  ],
  drawn: { as: 'bars', columns: ['won-value'] },
  notes: () => [
    $localize`Leads by when they began, deals by when they closed: what a lead of the period brings comes later.`,
  ],
};

/** How the people stand, and who of them went quiet. */
export const standingsReport: Definition = {
  facts: (_, scope) => [
    {
      record: 'contact',
      sql: `SELECT c.id, ${scope.by === 'owner' ? `COALESCE(${idKey('c.owner_id')}, '')` : idKey('c.standing_id')} AS row_key,
                   COALESCE(c.next_touch_due < :today, FALSE) AS quiet, c.next_step_on IS NULL AS loose
              FROM contact c WHERE c.archived_at IS NULL AND ${isAsked(scope, 'contact', 'c')}`,
      columns: [
        {
          ...{ key: 'people', words: $localize`people`, of: 'TRUE', as: { kind: 'count' } },
          how: $localize`People who are not archived, as they are now.`,
        },
        {
          ...{ key: 'quiet', words: $localize`quiet`, of: 'f.quiet', as: { kind: 'count' } },
          how: $localize`Not heard of for longer than their check-in interval.`,
        },
        {
          ...{
            key: 'quiet-share',
            words: $localize`share quiet`,
            of: 'f.quiet',
            as: { kind: 'share', in: 'TRUE' },
          },
          how: $localize`Of the people in the row, those who are quiet.`,
        },
        {
          ...{ key: 'loose', words: $localize`without a next step`, of: 'f.loose', as: { kind: 'count' } },
          how: $localize`Nothing is planned with them.`,
        },
      ],
    },
  ],
  drawn: { as: 'bars', columns: ['people', 'quiet'] },
  isOfNow: true,
  pathOf: (scope, row) => (scope.by === 'standing' ? peoplePath(scope, row) : null),
};

/** The list of People with one standing of these owners. */
function peoplePath({ owners, who }: Scope, row: string): string {
  const query = new URLSearchParams({ standing: idOf<string>(Buffer.from(row, 'hex') as IdBytes) });
  if (owners?.length === 1 && owners[0] === who.id) query.set('owner', 'mine');
  else if (owners !== null)
    query.set(
      'filter',
      JSON.stringify({ join: 'any', rules: owners.map((id) => ({ field: 'owner', ask: 'is', value: id })) }),
    );
  return `/people?${query.toString()}`;
}
