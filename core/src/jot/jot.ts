import type { Channel, JotQuestion, JotReading, Outcome } from '@kettle/contract';
import { findOutcome } from '../touch';
import { localDate } from '../time';
import { findPerson, type KnownPerson, wordsOf } from './people';
import { readLead } from './lead';
import { findWhen, type FoundWhen } from './when';
import { fillers, happenings, notNames, requests } from './words';

export interface JotSetting {
  readonly now: string;
  readonly zone: string;
  /** Where numbers without a country code are from; left out, Great Britain. */
  readonly country?: string;
  readonly known: readonly KnownPerson[];
  readonly outcomes: readonly Outcome[];
  /** Meant when the line names nobody. */
  readonly about: KnownPerson | null;
  readonly answers: Readonly<Record<string, string>>;
}

interface Clause {
  readonly text: string;
  readonly start: number;
}

interface ReadClause {
  readonly clause: Clause;
  readonly happening: { readonly outcomeId: string; readonly start: number; readonly end: number } | null;
  readonly request: { readonly channel: Channel; readonly start: number; readonly end: number } | null;
  readonly when: FoundWhen | null;
}

/**
 * Reads one line of plain English: whom it is about, what happened, when, and what is to be done next. Nothing is guessed
 * where people would read it in two ways: that becomes a question. What is left over is the note.
 * @example 'spoke to Maud Ellery, wants price, call thursday 10' logs a call with the note 'wants price' and plans a call
 */
export function readJot(line: string, setting: JotSetting): JotReading {
  const asLead = readLead(line, setting, readJot);
  if (asLead !== null) return asLead;
  const isNote = /^\s*(?:note|nb)\b\s*:?\s*/i.exec(line);
  const text = isNote ? line.slice(isNote[0].length) : line;
  const words = wordsOf(text);
  const found = findPerson(words, setting.known, setting.answers);
  const names = words.filter((_, index) => found.taken.has(index));
  const clauses = isNote ? [] : clausesOf(text).map((clause) => readClause(clause, names, setting));
  const questions: JotQuestion[] = found.question ? [found.question] : [];
  for (const { when } of clauses) if (when?.question) questions.push(when.question);
  const log = clauses.find((each) => each.happening !== null) ?? null;
  const unknownName = found.person || found.question ? null : unknownNameIn(text, clauses);
  const task = taskOf(clauses, names, unknownName, setting);
  const used = clauses.map((each) => usedSpans(each, task?.clause === each.clause));
  const outcome = log && outcomeOf(log, setting);
  const person = found.person ?? (found.question || unknownName ? null : setting.about);
  const body = isNote ? text.trim() : bodyOf(clauses, used, names, task?.clause ?? null, unknownName);
  return {
    act: outcome ? 'log' : task ? 'task' : body !== '' ? 'note' : 'nothing',
    channel: outcome?.kind ?? task?.channel ?? null,
    outcomeId: outcome?.id ?? null,
    outcomeWords: outcome?.label ?? null,
    happened: log?.when && !log.when.question ? { on: log.when.on, minute: log.when.minute } : null,
    task: task && { channel: task.channel, on: task.on, minute: task.minute, purpose: task.purpose },
    body,
    person: person && {
      id: person.id,
      name: `${person.givenName} ${person.familyName}`.trim(),
      companyName: person.companyName,
    },
    unknownName,
    lead: null,
    questions,
  };
}

/** Cuts at commas, stops and `then`, and before `and call …`; a decimal or a time keeps its dot. */
function clausesOf(text: string): Clause[] {
  const clauses: Clause[] = [];
  const cut =
    /[,;!?]+\s*|\.(?!\d)\s*|\s+[-–—]\s+|\s+(?:and\s+)?then\s+|\s+and\s+(?=(?:call|ring|phone|e-?mail|mail|write|text|meet|visit|send|see|remind|chase|follow|check)\b)/gi;
  let start = 0;
  for (const found of text.matchAll(cut)) {
    if (found.index > start) clauses.push({ text: text.slice(start, found.index), start });
    start = found.index + found[0].length;
  }
  if (start < text.length) clauses.push({ text: text.slice(start), start });
  return clauses;
}

function readClause(
  clause: Clause,
  names: readonly { start: number; end: number }[],
  setting: JotSetting,
): ReadClause {
  // Names are blanked, so that nobody called May or Will is read as a month or a wish.
  let text = clause.text;
  for (const name of names)
    if (name.start >= clause.start && name.end <= clause.start + clause.text.length)
      text =
        text.slice(0, name.start - clause.start) +
        '_'.repeat(name.end - name.start) +
        text.slice(name.end - clause.start);
  const happening = firstOf(happenings, text);
  const request = happening ? null : firstOf(requests, text);
  const when = findWhen(text, {
    now: setting.now,
    zone: setting.zone,
    isPast: happening !== null,
    answers: setting.answers,
  });
  return {
    clause,
    happening: happening && { outcomeId: happening.value, start: happening.start, end: happening.end },
    request: request && { channel: request.value, start: request.start, end: request.end },
    when,
  };
}

function firstOf<Value>(patterns: readonly (readonly [RegExp, Value])[], text: string) {
  for (const [pattern, value] of patterns) {
    const found = pattern.exec(text);
    if (found) return { value, start: found.index, end: found.index + found[0].length };
  }
  return null;
}

function outcomeOf(log: ReadClause, { outcomes }: JotSetting): Outcome | null {
  return findOutcome(log.happening!.outcomeId, outcomes) ?? null;
}

interface ReadTask {
  readonly clause: Clause;
  readonly channel: Channel;
  readonly on: string;
  readonly minute: number | null;
  readonly purpose: string;
}

/** A clause that asks for something: with a day, or beginning with the verb; a day alone after a log is a call. */
function taskOf(
  clauses: readonly ReadClause[],
  names: readonly { start: number; end: number }[],
  unknownName: string | null,
  { now, zone }: JotSetting,
): ReadTask | null {
  const today = localDate(now, zone);
  const hasLog = clauses.some((each) => each.happening !== null);
  for (const each of clauses) {
    const { clause, request, when, happening } = each;
    if (happening !== null || (when !== null && when.on < today)) continue;
    const begins = request !== null && clause.text.slice(0, request.start).trim() === '';
    const isAlone = hasLog && request === null && when !== null && when.start <= 3;
    if (!((request !== null && (when !== null || begins)) || isAlone)) continue;
    const spans = usedSpans(each, true).map(
      ([start, end]) => [start + clause.start, end + clause.start] as const,
    );
    const left = leftOver(clause, [...spans, ...names.map((name) => [name.start, name.end] as const)]);
    const purpose = unknownName ? trimFillers(left.replace(unknownName, ' ')) : left;
    return {
      clause,
      channel: request?.channel ?? 'call',
      on: when?.on ?? today,
      minute: when?.minute ?? null,
      purpose: purpose || (request?.channel === 'other' ? clause.text.trim() : $localize`follow up`),
    };
  }
  return null;
}

function usedSpans({ happening, request, when }: ReadClause, isTask: boolean): [number, number][] {
  const spans: [number, number][] = [];
  if (happening) spans.push([happening.start, happening.end]);
  if (when && (happening || isTask)) spans.push([when.start, when.end]);
  if (request && isTask) spans.push([request.start, request.end]);
  return spans;
}

function bodyOf(
  clauses: readonly ReadClause[],
  used: readonly [number, number][][],
  names: readonly { start: number; end: number }[],
  task: Clause | null,
  unknownName: string | null,
): string {
  return clauses
    .map(({ clause }, index) => {
      if (clause === task) return '';
      const spans = used[index]!.map(([start, end]) => [start + clause.start, end + clause.start] as const);
      const left = leftOver(clause, [...spans, ...names.map((name) => [name.start, name.end] as const)]);
      return unknownName ? trimFillers(left.replace(unknownName, ' ')) : left;
    })
    .filter(Boolean)
    .join(', ');
}

/** What a clause says beside the parts that were understood, without the small words at its ends. */
function leftOver(clause: Clause, spans: readonly (readonly [number, number])[]): string {
  const kept = [...clause.text].map((letter, index) => {
    const at = clause.start + index;
    return spans.some(([start, end]) => at >= start && at < end) ? ' ' : letter;
  });
  return trimFillers(kept.join(''));
}

function trimFillers(text: string): string {
  const words = text.split(/\s+/).filter(Boolean);
  while (words.length > 0 && fillers.test(words[0]!)) words.shift();
  while (words.length > 0 && (fillers.test(words.at(-1)!) || /^the$/i.test(words.at(-1)!))) words.pop();
  return words.join(' ');
}

/** Capitalised words that begin a clause or follow its verb: somebody nobody here is called. */
function unknownNameIn(text: string, clauses: readonly ReadClause[]): string | null {
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
