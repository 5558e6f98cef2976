import type { PlainDate } from '@kettle/contract';
import { addDays, addMonths, onOrBeforeWorkingDay, type WorkingCalendar } from '../time';

/** Money in minor units of the agreement's currency throughout. */
export type Uplift =
  | { readonly kind: 'none' }
  /** 350 = 3.5 %. */
  | { readonly kind: 'percent'; readonly hundredths: number }
  | { readonly kind: 'amount'; readonly minor: number };

export interface ChainTerm {
  /** 0 = the first. */
  readonly n: number;
  readonly startsOn: PlainDate;
  /** First day after the term. */
  readonly endsOn: PlainDate;
  /** Whole months; null for a term that was cut or stretched to end on a day agreed on. */
  readonly months: number | null;
  /** What the term brings, as it was agreed on when it began. */
  readonly valueMinor: number;
  readonly yearlyMinor: number;
  /** `rolled`: it renewed itself. `renewed`: somebody renewed it. */
  readonly how: 'first' | 'rolled' | 'renewed';
}

/** More or less from a day within a term on. */
export interface ValueChange {
  readonly on: PlainDate;
  /** What a whole term brings at the new rate. */
  readonly valueMinor: number;
}

export interface Chain {
  /** In their order, without gaps, at least one. */
  readonly terms: readonly ChainTerm[];
  /** In the order of their days. */
  readonly changes: readonly ValueChange[];
  readonly renewsItself: boolean;
  readonly noticeDays: number;
  readonly leadDays: number;
  readonly uplift: Uplift;
  /** The first day on which it does not hold any more; null while nobody ended it. */
  readonly leavesOn: PlainDate | null;
}

/**
 * What a term brings in a year. One of less than a year that ends by itself brings what it brings, once.
 * @example yearlyOf(50_000, 2, false) === 50_000; yearlyOf(50_000, 2, true) === 300_000; yearlyOf(360_000, 36, true) === 120_000
 */
export function yearlyOf(valueMinor: number, months: number, renewsItself: boolean): number {
  return months < 12 && !renewsItself ? valueMinor : Math.round((valueMinor * 12) / months);
}

/**
 * The value with its uplift, never below nothing; rounded to the minor unit, halves up.
 * @example uplifted(318_000, { kind: 'percent', hundredths: 350 }) === 329_130
 */
export function uplifted(valueMinor: number, uplift: Uplift): number {
  if (uplift.kind === 'percent')
    return Math.max(0, Math.round((valueMinor * (10_000 + uplift.hundredths)) / 10_000));
  return uplift.kind === 'amount' ? Math.max(0, valueMinor + uplift.minor) : valueMinor;
}

/** The first term of an agreement. */
export function firstTerm(asked: {
  readonly startsOn: PlainDate;
  readonly termMonths: number;
  readonly valueMinor: number;
  readonly renewsItself: boolean;
}): ChainTerm {
  const { startsOn, termMonths: months, valueMinor, renewsItself } = asked;
  return {
    ...{ n: 0, startsOn, endsOn: addMonths(startsOn, months), months, valueMinor, how: 'first' },
    yearlyMinor: yearlyOf(valueMinor, months, renewsItself),
  };
}

/**
 * The day that the lengths of terms are counted from, and how many months after it the next one begins: the first start, or the day agreed on
 * that the last cut or stretched term ends with. So one from 31 January by the month ends on 28 February and then on 31 March.
 */
function anchorOf(terms: readonly ChainTerm[]): { on: PlainDate; months: number } {
  const odd = terms.findLastIndex(({ months }) => months === null);
  const after = terms.slice(odd + 1);
  return {
    on: odd < 0 ? terms[0]!.startsOn : terms[odd]!.endsOn,
    months: after.reduce((sum, { months }) => sum + (months ?? 0), 0),
  };
}

const usualMonths = ({ terms }: Chain) => terms.findLast(({ months }) => months !== null)?.months ?? 12;

/** What a whole term brings at the rate of its last day: mid-term changes count. */
function valueAtEnd(chain: Chain, term: ChainTerm): number {
  const last = chain.changes.findLast(({ on }) => on >= term.startsOn && on < term.endsOn);
  return last?.valueMinor ?? term.valueMinor;
}

function yearlyAfter(term: ChainTerm, valueMinor: number, renewsItself: boolean): number {
  if (term.months !== null) return yearlyOf(valueMinor, term.months, renewsItself);
  return term.valueMinor === 0 ? valueMinor : Math.round((valueMinor * term.yearlyMinor) / term.valueMinor);
}

export interface NextTerm {
  /** Left out, as long as the last one of whole months. */
  readonly months?: number;
  /** It ends on that day, whatever its length: so several agreements come to one day. */
  readonly until?: PlainDate;
  /** Left out, the value at the end of the last term with its uplift; of one until a day, in proportion to its days. */
  readonly valueMinor?: number;
  readonly how?: 'rolled' | 'renewed';
}

/**
 * The term after the last one, anchored to the first start.
 * @throws RangeError when `until` is not after its beginning
 */
export function termAfter(chain: Chain, asked: NextTerm = {}): ChainTerm {
  const last = chain.terms.at(-1)!;
  const { how = 'renewed', until } = asked;
  const startsOn = last.endsOn;
  const months = asked.months ?? usualMonths(chain);
  const whole = uplifted(valueAtEnd(chain, last), chain.uplift);
  if (until !== undefined) {
    if (until <= startsOn) throw new RangeError('a term ends after it begins');
    const yearly = uplifted(yearlyAfter(last, valueAtEnd(chain, last), chain.renewsItself), chain.uplift);
    const days = daysOf(startsOn, until);
    const valueMinor = asked.valueMinor ?? Math.round((yearly * days) / 365);
    const yearlyMinor = asked.valueMinor === undefined ? yearly : Math.round((asked.valueMinor * 365) / days);
    return { n: last.n + 1, startsOn, endsOn: until, months: null, valueMinor, yearlyMinor, how };
  }
  const anchor = anchorOf(chain.terms);
  // A longer or shorter term than the last, without another value, brings in proportion.
  const valueMinor =
    asked.valueMinor ??
    (last.months === null
      ? Math.round(
          (uplifted(yearlyAfter(last, valueAtEnd(chain, last), chain.renewsItself), chain.uplift) * months) /
            12,
        )
      : Math.round((whole * months) / last.months));
  return {
    ...{ n: last.n + 1, startsOn, months, valueMinor, how },
    endsOn: addMonths(anchor.on, anchor.months + months),
    yearlyMinor: yearlyOf(valueMinor, months, chain.renewsItself),
  };
}

const daysOf = (from: PlainDate, to: PlainDate) =>
  Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);

/** Terms that began by themselves up to and on a day, for a chain that renews itself and that nobody ended. */
export function rolledTerms(chain: Chain, today: PlainDate): ChainTerm[] {
  const added: ChainTerm[] = [];
  let now = chain;
  for (;;) {
    const { endsOn } = now.terms.at(-1)!;
    const ends = chain.leavesOn !== null && chain.leavesOn <= endsOn;
    if (!chain.renewsItself || ends || endsOn > today) return added;
    const next = termAfter(now, { how: 'rolled' });
    added.push(next);
    now = { ...now, terms: [...now.terms, next] };
  }
}

export type AgreementState = 'ahead' | 'running' | 'over' | 'ended';
export type RenewalDecision = 'open' | 'renewed' | 'leaving';

export interface ChainDay {
  /** `over`: its term is over and nobody said what follows. `ended`: it was ended, and the day is past. */
  readonly state: AgreementState;
  /** Whether something follows the term: a next one is agreed on, it leaves, or that is still open. */
  readonly decision: RenewalDecision;
  readonly term: ChainTerm;
  /** What a whole term brings at the rate of the day. */
  readonly valueMinor: number;
  readonly yearlyMinor: number;
  /** Last working day on which notice can be given. */
  readonly noticeDeadlineOn: PlainDate;
  /** The day to start talking about the renewal. */
  readonly leadOn: PlainDate;
  /** The next day on which any of this becomes another; null when none will. */
  readonly nextOn: PlainDate | null;
}

/** The first day on which nothing holds any more: when it leaves, or when its last term ends without another; null for neither. */
function endOf({ terms, renewsItself, leavesOn }: Chain): PlainDate | null {
  const { endsOn } = terms.at(-1)!;
  if (renewsItself) return leavesOn;
  return leavesOn !== null && leavesOn < endsOn ? leavesOn : endsOn;
}

/**
 * What an agreement is on a day. Terms that have rolled since must be in the chain (`rolledTerms`).
 * Notice deadline = term end - notice days, moved back to a working day; lead day = notice deadline - lead days.
 */
export function chainOn(chain: Chain, today: PlainDate, calendar: WorkingCalendar): ChainDay {
  const { terms, changes, leavesOn, renewsItself } = chain;
  const term = terms.findLast(({ startsOn }) => startsOn <= today) ?? terms[0]!;
  const isLast = term === terms.at(-1);
  const change = changes.findLast(({ on }) => on >= term.startsOn && on < term.endsOn && on <= today);
  const valueMinor = change?.valueMinor ?? term.valueMinor;
  const { noticeDeadlineOn, leadOn } = noticeOf(term.endsOn, chain, calendar);
  const ahead = [
    terms[0]!.startsOn,
    ...terms.map(({ endsOn }) => endsOn),
    ...changes.map(({ on }) => on),
    ...(leavesOn === null ? [] : [leavesOn]),
  ].filter((day) => day > today);
  const end = endOf(chain);
  const isOver = end !== null && end <= today;
  return {
    state: isOver ? (leavesOn === null ? 'over' : 'ended') : terms[0]!.startsOn > today ? 'ahead' : 'running',
    decision: leavesOn !== null ? 'leaving' : isLast ? 'open' : 'renewed',
    term,
    valueMinor,
    yearlyMinor: change === undefined ? term.yearlyMinor : yearlyAfter(term, change.valueMinor, renewsItself),
    noticeDeadlineOn,
    leadOn,
    nextOn: ahead.length === 0 ? null : ahead.reduce((one, other) => (one < other ? one : other)),
  };
}

/** Notice deadline and lead day of a term that ends on a day. */
export function noticeOf(
  endsOn: PlainDate,
  { noticeDays, leadDays }: Pick<Chain, 'noticeDays' | 'leadDays'>,
  calendar: WorkingCalendar,
): { readonly noticeDeadlineOn: PlainDate; readonly leadOn: PlainDate } {
  const noticeDeadlineOn = onOrBeforeWorkingDay(addDays(endsOn, -noticeDays), calendar);
  return { noticeDeadlineOn, leadOn: addDays(noticeDeadlineOn, -leadDays) };
}

/**
 * The day on which a notice that comes in on a day takes effect: the end of the term; where the agreement renews itself and the last day for
 * it is past, the end of the term after.
 */
export function noticeEffect(
  chain: Chain,
  receivedOn: PlainDate,
  calendar: WorkingCalendar,
): { readonly leavesOn: PlainDate; readonly isLate: boolean } {
  const day = chainOn(chain, receivedOn, calendar);
  const isLate = chain.renewsItself && receivedOn > day.noticeDeadlineOn;
  if (!isLate) return { leavesOn: day.term.endsOn, isLate };
  const next = chain.terms.find(({ n }) => n === day.term.n + 1) ?? termAfter(chain, { how: 'rolled' });
  return { leavesOn: next.endsOn, isLate };
}

/** What an agreement brings in a year from a day on. */
export interface ValueStep {
  readonly from: PlainDate;
  readonly yearlyMinor: number;
}

/**
 * The yearly value over time, one step for each day it becomes another; the last is 0 once it leaves or its last term ends by itself.
 * @example a year from 1 March for £1,000, £1,500 from 1 June, ended by 1 September: [03-01: 100_000, 06-01: 150_000, 09-01: 0]
 */
export function valueSteps(chain: Chain): ValueStep[] {
  const { terms, changes, renewsItself } = chain;
  const all = terms.flatMap((term) => [
    { from: term.startsOn, yearlyMinor: term.yearlyMinor },
    ...changes
      .filter(({ on }) => on >= term.startsOn && on < term.endsOn)
      .map(({ on, valueMinor }) => ({ from: on, yearlyMinor: yearlyAfter(term, valueMinor, renewsItself) })),
  ]);
  const end = endOf(chain);
  const held = end === null ? all : [...all.filter(({ from }) => from < end), { from: end, yearlyMinor: 0 }];
  // Of two on one day the later said holds; one that changes nothing is none.
  return held
    .filter((step, at) => held[at + 1]?.from !== step.from)
    .filter((step, at, rest) => (rest[at - 1]?.yearlyMinor ?? 0) !== step.yearlyMinor);
}

/** What was written down wrongly: of the whole chain its beginning, of one term its length or its value. */
export interface Correction {
  readonly startsOn?: PlainDate;
  readonly n: number;
  readonly months?: number;
  readonly valueMinor?: number;
}

/** The same terms with a mistake corrected; those after move with it, as they are counted from the first start. */
export function correctedTerms(chain: Chain, { startsOn, n, months, valueMinor }: Correction): ChainTerm[] {
  const kept: ChainTerm[] = [];
  for (const term of chain.terms) {
    const value = (term.n === n ? valueMinor : undefined) ?? term.valueMinor;
    const length = (term.n === n ? months : undefined) ?? term.months;
    if (kept.length === 0) {
      const first = {
        startsOn: startsOn ?? term.startsOn,
        valueMinor: value,
        renewsItself: chain.renewsItself,
      };
      kept.push(firstTerm({ ...first, termMonths: length ?? 12 }));
      continue;
    }
    const next = termAfter(
      { ...chain, terms: kept, changes: [] },
      length === null
        ? { until: term.endsOn, valueMinor: value, how: 'renewed' }
        : { months: length, valueMinor: value, how: term.how === 'rolled' ? 'rolled' : 'renewed' },
    );
    const isSame =
      next.startsOn === term.startsOn && next.endsOn === term.endsOn && value === term.valueMinor;
    // A term cut to a day keeps the yearly value it was cut from.
    kept.push(isSame && length === null ? term : next);
  }
  return kept;
}
