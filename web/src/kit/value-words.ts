import { Pipe, type PipeTransform } from '@angular/core';
import type { Option } from './choice-field';

/** What a kept value is called where it is shown; whatever has no words of its own here (a person's tag, a currency) stands for itself. */
const words: Readonly<Record<string, string>> = {
  // What is at hand with a person, a deal or a lead.
  late: $localize`late`,
  today: $localize`today`,
  held: $localize`held`,
  loose: $localize`loose`,
  ahead: $localize`ahead`,
  stalled: $localize`stalled`,
  // Where something stands.
  all: $localize`all`,
  any: $localize`any`,
  open: $localize`open`,
  won: $localize`won`,
  lost: $localize`lost`,
  parked: $localize`parked`,
  archived: $localize`archived`,
  done: $localize`done`,
  dropped: $localize`dropped`,
  skipped: $localize`skipped`,
  active: $localize`active`,
  running: $localize`running`,
  paused: $localize`paused`,
  ended: $localize`ended`,
  // How a list is shown.
  list: $localize`list`,
  lanes: $localize`lanes`,
  columns: $localize`columns`,
  timeline: $localize`timeline`,
  'at stake': $localize`at stake`,
  retention: $localize`retention`,
  // How warm a lead or a person is, and how alike two records are.
  hot: $localize`hot`,
  warm: $localize`warm`,
  fair: $localize`fair`,
  cool: $localize`cool`,
  certain: $localize`certain`,
  likely: $localize`likely`,
  // Roles in a deal and here.
  decides: $localize`decides`,
  signs: $localize`signs`,
  uses: $localize`uses`,
  advises: $localize`advises`,
  rep: $localize`rep`,
  manager: $localize`manager`,
  admin: $localize`admin`,
  demo: $localize`demo`,
  // Groups of standings, kinds of outcomes and records.
  prospect: $localize`prospect`,
  customer: $localize`customer`,
  former: $localize`former`,
  attempt: $localize`attempt`,
  conversation: $localize`conversation`,
  us: $localize`us`,
  them: $localize`them`,
  contact: $localize`person`,
  company: $localize`company`,
  deal: $localize`deal`,
  lead: $localize`lead`,
  email: $localize`e-mail`,
  phone: $localize`phone`,
  link: $localize`link`,
  once: $localize`once`,
  yearly: $localize`yearly`,
};

/** @example wordOf('parked') is 'parked', and 'pausiert' where the page is German */
export const wordOf = (value: string): string => words[value] ?? value;

/** A kept value as people say it. @example `{{ deal.status | word }}` */
@Pipe({ name: 'word' })
export class WordPipe implements PipeTransform {
  transform(value: string | null | undefined): string {
    return wordOf(value ?? '');
  }
}

/** Kept values as choices, in people's words. @example spoken(['once', 'yearly']) */
export const spoken = <Value extends string>(values: readonly Value[]): Option<Value>[] =>
  values.map((value) => ({ value, words: wordOf(value) }));
