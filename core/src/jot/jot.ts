import type { Channel, JotQuestion, JotReading, Outcome } from '@kettle/contract';
import { localDate } from '../time';
import { findOutcome } from '../touch';
import { type Clause, clausesOf } from './clauses';
import { type Colleague, findColleague } from './colleagues';
import { closingIn, findDeal, type FoundDeal, type KnownDeal } from './deals';
import { readLead } from './lead';
import { findOthers, findPerson, type KnownPerson, wordsOf } from './people';
import { placesIn } from './place';
import { amountIn, lengthIn, type Span } from './sums';
import { findWhen, type FoundWhen } from './when';
import {
  bareCallRank,
  fillers,
  happenedSomehow,
  happenings,
  leading,
  notHappened,
  notNames,
  requests,
  theyWill,
} from './words';

export interface JotSetting {
  readonly now: string;
  readonly zone: string;
  /** Where numbers without a country code are from, and whose order of day and month holds; left out, Great Britain. */
  readonly country?: string;
  readonly known: readonly KnownPerson[];
  readonly outcomes: readonly Outcome[];
  /** Who else is of the house. */
  readonly colleagues?: readonly Colleague[];
  /** Open deals the line may name. */
  readonly deals?: readonly KnownDeal[];
  /** Meant when the line names nobody. */
  readonly about: KnownPerson | null;
  readonly answers: Readonly<Record<string, string>>;
}

interface ReadClause {
  readonly clause: Clause;
  readonly happening: (Span & { readonly outcomeId: string; readonly rank: number }) | null;
  /** Some ask for something only together with a day. */
  readonly request: (Span & { readonly channel: Channel; readonly needsDay: boolean }) | null;
  readonly when: FoundWhen | null;
  readonly length: (Span & { readonly minutes: number }) | null;
}

/**
 * Reads one line of plain English: whom it is about, what happened, when, and what is to be done next and by whom. Nothing is guessed
 * where people would read it in two ways: that becomes a question. What is left over is the note, as it was written.
 * @example 'spoke to Maud Ellery, wants price, call thursday 10' logs a call with the note 'wants price' and plans a call
 */
export function readJot(line: string, setting: JotSetting): JotReading {
  const read = readWithoutPlace(line, setting);
  if (!isAppointment(read)) return read;
  for (const place of placesIn(line)) {
    // It is one only if all else is read as before without it: "at" begins many things.
    const without = readWithoutPlace(blank(line, place), setting);
    const isSame = (of: (reading: JotReading) => unknown) => of(read) === of(without);
    const holds =
      isAppointment(without) &&
      isSame(({ person }) => person?.id) &&
      isSame(({ task }) => `${task!.channel} ${task!.on} ${task!.minute}`) &&
      isSame(({ questions }) => questions.length);
    if (holds) return { ...without, task: { ...without.task!, place: place.words } };
  }
  return read;
}

/** Somebody is to be met at a time. */
const isAppointment = ({ act, task, person }: JotReading): boolean =>
  act === 'task' &&
  person !== null &&
  task !== null &&
  task.minute !== null &&
  (task.channel === 'meeting' || task.channel === 'visit');

function readWithoutPlace(line: string, setting: JotSetting): JotReading {
  const asLead = readLead(line, setting, readWithoutPlace);
  if (asLead !== null) return asLead;
  const isNote = /^\s*(?:note|nb)\b\s*:?\s*/i.exec(line);
  const text = isNote ? line.slice(isNote[0].length) : line;
  const given = isNote ? null : findColleague(text, setting.colleagues ?? []);
  const free = given ? blank(text, given) : text;
  const named = findDeal(free, setting.deals ?? []);
  const words = wordsOf(named ? blank(free, named) : free);
  const first = findPerson(words, setting.known, setting.answers);
  const others = first.person
    ? findOthers(words, setting.known, first, text)
    : { people: [], taken: first.taken };
  // What is somebody's is no name alone: `Theo's partner` stays as it was written.
  const names: Span[] = words.filter((word, index) => others.taken.has(index) && !/['’]s$/.test(word.text));
  const owned = words.filter((word, index) => others.taken.has(index) && /['’]s$/.test(word.text));
  const deal = named && chooseDeal(named, first.person ?? setting.about, setting.answers);
  const context: Context = { setting, names: [...names, ...owned], deal, given };
  const read = isNote ? [] : clausesOf(free).map((clause) => readClause(clause, context));
  const clauses = read.map((each, index) =>
    isQuoted(read, index, text) ? { ...each, request: null } : each,
  );
  return new Reading(text, {
    ...context,
    names,
    clauses,
    first,
    also: others.people,
    isNote: isNote !== null,
  }).read();
}

/** What stands behind a colon after something that happened are their words, and asks nothing of us. */
const isQuoted = (clauses: readonly ReadClause[], index: number, text: string): boolean => {
  const before = clauses[index - 1];
  if (!before?.happening) return false;
  return text
    .slice(before.clause.start + before.clause.text.length, clauses[index]!.clause.start)
    .includes(':');
};

interface Context {
  readonly setting: JotSetting;
  readonly names: readonly Span[];
  readonly deal: ChosenDeal | null;
  readonly given: (Span & { readonly colleague: Colleague }) | null;
}

interface ChosenDeal extends Span {
  readonly deal: KnownDeal | null;
  readonly question: JotQuestion | null;
}

/** The one deal, that of whoever is meant, or the one that was chosen; else it is asked which. */
function chooseDeal(
  { fitting, start, end }: FoundDeal,
  person: KnownPerson | null,
  answers: Readonly<Record<string, string>>,
): ChosenDeal {
  const theirs = fitting.filter(({ contactId }) => contactId !== null && contactId === person?.id);
  const left = theirs.length > 0 ? theirs : fitting;
  const deal = left.length === 1 ? left[0]! : (left.find(({ id }) => id === answers.deal) ?? null);
  const choices = left.slice(0, 6).map(({ id, name }) => ({ value: id as string, words: name }));
  const question = deal ? null : { about: 'deal', words: $localize`Which deal is meant?`, choices };
  return { deal, question, start, end };
}

const blank = (text: string, { start, end }: Span) =>
  text.slice(0, start) + ' '.repeat(end - start) + text.slice(end);
const mask = (text: string, { start, end }: Span) =>
  text.slice(0, start) + '_'.repeat(end - start) + text.slice(end);

function readClause(clause: Clause, { setting, names, deal }: Context): ReadClause {
  const inClause = (span: Span) =>
    span.start >= clause.start && span.end <= clause.start + clause.text.length;
  const local = (span: Span) => ({ start: span.start - clause.start, end: span.end - clause.start });
  let text = clause.text;
  for (const name of names) if (inClause(name)) text = mask(text, local(name));
  // Two halves of a name are one.
  text = text.replace(/(?<=_) (?=_)/g, '_');
  if (deal && inClause(deal)) text = blank(text, local(deal));
  const isDenied = notHappened.test(text);
  const happening = firstHappening(text, isDenied);
  const request = happening || isDenied || theyWill.test(text) ? null : firstRequest(text);
  const length = lengthIn(text);
  const when = findWhen(length ? blank(text, length) : text, {
    now: setting.now,
    zone: setting.zone,
    country: setting.country ?? 'GB',
    isPast: happening !== null,
    answers: setting.answers,
  });
  return { clause, happening, request, when, length };
}

/** Ways of saying that it did not come about which hold a "not" of their own. */
const triedInVain = ['call-no-answer', 'call-not-interested', 'meeting-missed', 'visit-nobody'];

function firstHappening(text: string, isDenied: boolean): ReadClause['happening'] {
  let best: ReadClause['happening'] = null;
  for (const { pattern, outcomeId, rank } of happenings) {
    if (best !== null && best.rank >= rank) continue;
    if (isDenied && !triedInVain.includes(outcomeId)) continue;
    const found = pattern.exec(text);
    if (!found) continue;
    // The name before the verb is seen to by itself.
    const name = /^\W*_+ (?=\S)/u.exec(found[0]);
    const start =
      found.index +
      (name && found.index + name[0].length < found.index + found[0].length ? name[0].length : 0);
    best = { outcomeId, rank, start, end: found.index + found[0].length };
  }
  return best;
}

function firstRequest(text: string): ReadClause['request'] {
  for (const [pattern, channel, needsDay = false] of requests) {
    const found = pattern.exec(text);
    if (found) return { channel, needsDay, start: found.index, end: found.index + found[0].length };
  }
  return null;
}

interface ReadTask extends NonNullable<JotReading['task']> {
  readonly clause: Clause;
}

interface Parts extends Context {
  readonly clauses: readonly ReadClause[];
  readonly first: ReturnType<typeof findPerson>;
  readonly also: readonly KnownPerson[];
  readonly isNote: boolean;
}

/** One line in its parts, put together. */
class Reading {
  private readonly log: ReadClause | null;
  private readonly closing: ReturnType<typeof closingIn>;

  constructor(
    private readonly text: string,
    private readonly parts: Parts,
  ) {
    this.log = mostSpecific(parts.clauses);
    this.closing = parts.deal && !parts.isNote ? closingIn(mask(text, parts.deal)) : null;
  }

  read(): JotReading {
    const { setting, first, deal, also, clauses, isNote, given } = this.parts;
    const unknownName =
      first.person || first.question || isNote || deal ? null : unknownNameIn(clauses, this.text);
    const task = this.closing ? null : this.taskOf(unknownName);
    const outcome = this.outcome();
    const ofDeal = setting.known.find(({ id }) => id === deal?.deal?.contactId) ?? null;
    const person = first.person ?? ofDeal ?? (first.question || unknownName ? null : setting.about);
    // What was answered of a line that does not say it leaves the line as it is.
    const isPlainNote = !task && !this.closing && (!outcome || this.log === null);
    const { when } = this.log ?? {};
    const questions = this.questions(outcome, task);
    const chosen = this.closing?.as === 'asked' ? setting.answers.closing : this.closing?.as;
    const body = isPlainNote ? this.text.trim() : this.bodyOf(task?.clause ?? null, unknownName);
    const length = this.log?.length?.minutes ?? this.log?.when?.minutes ?? task?.clause;
    const minutes =
      typeof length === 'number' ? length : (this.lengthOfTask(task) ?? this.lengthAnywhere(outcome));
    const sum = amountIn(this.text);
    return {
      act: this.closing ? 'closing' : outcome ? 'log' : task ? 'task' : body !== '' ? 'note' : 'nothing',
      channel: outcome?.kind ?? task?.channel ?? null,
      outcomeId: outcome?.id ?? null,
      outcomeWords: outcome?.label ?? null,
      happened: outcome && when && !when.question ? { on: when.on, minute: when.minute } : null,
      minutes,
      task: task && {
        channel: task.channel,
        on: task.on,
        minute: task.minute,
        purpose: task.purpose,
        owner: given ? { id: given.colleague.id, name: given.colleague.name } : null,
        place: null,
      },
      body,
      person: person && { id: person.id, name: nameOf(person), companyName: person.companyName },
      also: outcome ? also.map((each) => ({ id: each.id, name: nameOf(each) })) : [],
      deal: deal?.deal ? { id: deal.deal.id, name: deal.deal.name } : null,
      closing: chosen === 'won' || chosen === 'lost' ? chosen : null,
      amount: sum && { minor: sum.minor, currency: sum.currency },
      tags: [],
      source: null,
      unknownName,
      lead: null,
      questions,
    };
  }

  /** What happened: as it was answered where that was asked, else as the line says. */
  private outcome(): Outcome | null {
    const { setting, isNote } = this.parts;
    if (this.closing || isNote) return null;
    const id = setting.answers.what ?? this.log?.happening?.outcomeId;
    return id === undefined ? null : (findOutcome(id, setting.outcomes) ?? null);
  }

  private lengthOfTask(task: ReadTask | null): number | null {
    const own = this.parts.clauses.find(({ clause }) => clause === task?.clause);
    return own?.length?.minutes ?? own?.when?.minutes ?? null;
  }

  /** A length that stands alone beside what happened: `visited Theo, 45 min`. */
  private lengthAnywhere(outcome: Outcome | null): number | null {
    if (outcome === null) return null;
    return (
      this.parts.clauses.find(({ length, request }) => length !== null && request === null)?.length
        ?.minutes ?? null
    );
  }

  private questions(outcome: Outcome | null, task: ReadTask | null): JotQuestion[] {
    const { clauses, first, setting, isNote } = this.parts;
    const questions: JotQuestion[] = [first.question, this.parts.deal?.question].filter((each) => !!each);
    for (const { when, happening, clause } of clauses)
      if (when?.question && (happening !== null || clause === task?.clause)) questions.push(when.question);
    if (this.closing?.as === 'asked' && setting.answers.closing === undefined)
      questions.push({
        about: 'closing',
        words: $localize`How did it end?`,
        choices: [
          { value: 'won', words: $localize`won` },
          { value: 'lost', words: $localize`lost` },
        ],
      });
    const asked = this.askWhatHappened(outcome, task);
    if (asked !== null && !isNote) questions.push(asked);
    return questions;
  }

  /** A call of which nothing is said, and something that happened in words that do not say what. */
  private askWhatHappened(outcome: Outcome | null, task: ReadTask | null): JotQuestion | null {
    const { clauses, setting } = this.parts;
    if (setting.answers.what !== undefined || this.closing) return null;
    const choices = (ids: readonly string[]) =>
      ids.flatMap((id) => {
        const found = findOutcome(id, setting.outcomes);
        return found ? [{ value: id, words: found.label }] : [];
      });
    const isBare =
      this.log?.happening?.rank === bareCallRank &&
      this.bodyOf(task?.clause ?? null, null) === '' &&
      task === null;
    if (isBare)
      return {
        about: 'what',
        words: $localize`Did anybody answer?`,
        choices: choices(['call-spoke', 'call-no-answer', 'call-voicemail']),
      };
    const isSomehow =
      outcome === null && task === null && clauses.some(({ clause }) => happenedSomehow.test(clause.text));
    if (!isSomehow) return null;
    return {
      about: 'what',
      words: $localize`What was it?`,
      choices: [
        ...choices(['call-spoke', 'email-came-in', 'meeting-held', 'visit-held']),
        { value: 'note', words: $localize`only a note` },
      ],
    };
  }

  /** A clause that asks for something: with a day, or beginning with the verb; a day alone after a log is a call. */
  private taskOf(unknownName: string | null): ReadTask | null {
    const { clauses, setting, names } = this.parts;
    const today = localDate(setting.now, setting.zone);
    const hasLog = this.log !== null;
    for (const each of clauses) {
      const { clause, request, when, happening } = each;
      if (happening !== null || (when !== null && when.on < today)) continue;
      const lead = masked(clause, names, request?.start ?? 0);
      const isBare = request !== null && !request.needsDay && lead.replace(/[\W_]/g, '') === '';
      const isAlone = hasLog && request === null && when !== null && when.start <= 3;
      const isAsked = request !== null && (when !== null || isBare);
      if (!isAsked && !isAlone) continue;
      const spans = [...usedSpans(each, true), ...leadSpan(request)].map(
        ([start, end]) => [start + clause.start, end + clause.start] as const,
      );
      const left = this.leftOver(clause, spans);
      const purpose = unknownName ? trimFillers(left.replace(unknownName, ' ')) : left;
      return {
        clause,
        channel: request?.channel ?? 'call',
        on: when?.on ?? today,
        minute: when?.minute ?? null,
        purpose: purpose || (request?.channel === 'other' ? clause.text.trim() : $localize`follow up`),
        owner: null,
        place: null,
      };
    }
    return null;
  }

  private bodyOf(task: Clause | null, unknownName: string | null): string {
    const { clauses } = this.parts;
    let body = '';
    let last: Clause | null = null;
    for (const each of clauses) {
      if (each.clause === task) continue;
      const spans = usedSpans(each, false).map(
        ([start, end]) => [start + each.clause.start, end + each.clause.start] as const,
      );
      const left = this.leftOver(each.clause, spans);
      const said = unknownName ? trimFillers(left.replace(unknownName, ' ')) : left;
      if (said === '') continue;
      // Between two parts that followed each other stands what stood there.
      const between = last === null ? '' : this.text.slice(last.start + last.text.length, each.clause.start);
      body +=
        last === null
          ? said
          : `${/^[\s,;:.!?–—-]+$/.test(between) ? between.replace(/\s+/g, ' ') : ', '}${said}`;
      last = each.clause;
    }
    return body;
  }

  /** What a clause says beside the parts that were understood, without the small words at its ends. */
  private leftOver(clause: Clause, spans: readonly (readonly [number, number])[]): string {
    const { names, deal, given } = this.parts;
    const closed = this.closing ? [this.closing] : [];
    const price = this.closing ? [amountIn(this.text)].filter((span) => span !== null) : [];
    const used = [...names, ...(deal ? [deal] : []), ...(given ? [given] : []), ...closed, ...price];
    const all = [...spans, ...used.map(({ start, end }) => [start, end] as const)];
    const kept = Array.from({ length: clause.text.length }, (_, index) => {
      const at = clause.start + index;
      return all.some(([start, end]) => at >= start && at < end) ? ' ' : clause.text[index]!;
    });
    // Small words go where something beside them was understood, and stay where a part begins or ends with them.
    const first = clause.text.search(/\S/);
    const last = clause.text.trimEnd().length - 1;
    return trimFillers(kept.join(''), { start: kept[first] === ' ', end: kept[last] === ' ' });
  }
}

const nameOf = ({ givenName, familyName }: KnownPerson) => `${givenName} ${familyName}`.trim();

/** What is the most specific of a line; of equals the first. A talk that follows a try in vain is what came of it. */
function mostSpecific(clauses: readonly ReadClause[]): ReadClause | null {
  return clauses.reduce<ReadClause | null>(
    (best, each) =>
      each.happening !== null && each.happening.rank > (best?.happening?.rank ?? 0) ? each : best,
    null,
  );
}

function masked(clause: Clause, names: readonly Span[], end: number): string {
  let text = clause.text;
  for (const name of names)
    if (name.start >= clause.start && name.end <= clause.start + text.length)
      text = mask(text, { start: name.start - clause.start, end: name.end - clause.start });
  return text.slice(0, end);
}

/** "I need to" before the verb is no part of the purpose. */
const leadSpan = (request: ReadClause['request']): [number, number][] =>
  request ? [[0, request.start]] : [];

function usedSpans({ happening, request, when, length }: ReadClause, isTask: boolean): [number, number][] {
  const spans: [number, number][] = [];
  if (happening) spans.push([happening.start, happening.end]);
  if (length) spans.push([length.start, length.end]);
  if (when && (happening || isTask)) spans.push([when.start, when.end]);
  if (request && isTask) spans.push([request.start, request.end]);
  return spans;
}

function trimFillers(text: string, at = { start: true, end: true }): string {
  const words = text.split(/\s+/).filter(Boolean);
  while (at.start && words.length > 0 && fillers.test(words[0]!)) words.shift();
  while (at.end && words.length > 0 && (leading.test(words.at(-1)!) || fillers.test(words.at(-1)!)))
    words.pop();
  return words.join(' ').replace(/^[,;:.–—-]+\s*|\s*[,;:–—-]+$/g, '');
}

/** Capitalised words that begin a clause or follow its verb: somebody nobody here is called. */
function unknownNameIn(clauses: readonly ReadClause[], text: string): string | null {
  for (const { clause, happening, request, when } of clauses) {
    if (!happening && !request) continue;
    const whenSpan = when ? [when.start, when.end] : [-1, -1];
    const names = [
      ...clause.text.matchAll(/\p{Lu}[\p{L}'’-]+(?:\s+(?:van|de|da|der|den|do|dos)?\s*\p{Lu}[\p{L}'’-]+)*/gu),
    ];
    for (const name of names) {
      if (name.index >= whenSpan[0]! && name.index < whenSpan[1]!) continue;
      const kept = name[0].split(/\s+/).filter((word) => !notNames.test(word));
      if (kept.length > 0 && text.includes(kept.join(' '))) return kept.join(' ');
    }
  }
  return null;
}
