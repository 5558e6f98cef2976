import { type Counted, type Measure, measures } from '@kettle/contract/base/counted';

/** Where a kind of record's counts are kept, and what names it in the journal. */
export const countedTables = {
  contact: { table: 'contact_count', subject: 'contact', named: 'contact_id' },
  company: { table: 'company_count', subject: 'company', named: 'company_id' },
  deal: { table: 'deal_count', subject: 'deal', named: 'deal_id' },
} as const satisfies Record<Counted, object>;

/** What of an entry says that it is one of a measure. */
export interface Countable {
  readonly kind: string;
  readonly direction: string | null;
  readonly counts: string;
}

interface Rule {
  readonly kinds?: readonly string[];
  readonly direction?: 'in' | 'out';
  readonly counts?: 'conversation';
}

/** A meeting that was missed, and a visit that met nobody, are none that was held. */
const rules: Readonly<Record<Measure, Rule>> = {
  'mail-in': { kinds: ['email'], direction: 'in' },
  'mail-out': { kinds: ['email'], direction: 'out' },
  call: { kinds: ['call'] },
  text: { kinds: ['text'] },
  meeting: { kinds: ['meeting', 'visit'], counts: 'conversation' },
  conversation: { counts: 'conversation' },
  note: { kinds: ['note'] },
};

export const measuresOf = ({ kind, direction, counts }: Countable): Measure[] =>
  kind === 'system'
    ? []
    : measures.filter((measure) => {
        const rule = rules[measure];
        return (
          (rule.kinds?.includes(kind) ?? true) &&
          (rule.direction ?? direction) === direction &&
          (rule.counts ?? counts) === counts
        );
      });

/** The same as a condition on `journal_entry e`: 1, or 0. */
export function measureSql(measure: Measure): string {
  const { kinds, direction, counts } = rules[measure];
  return [
    ...(kinds ? [`e.kind IN (${kinds.map((kind) => `'${kind}'`).join(', ')})`] : []),
    ...(direction ? [`e.direction <=> '${direction}'`] : []),
    ...(counts ? [`e.counts = '${counts}'`] : []),
  ].join(' AND ');
}

/** `mail_in`, as the columns of a measure begin. */
export const columnOf = (measure: Measure) => measure.replace('-', '_');
