import type { ReportKind } from '@kettle/contract/numbers/kinds';
import { reportLabel } from '@kettle/contract/numbers/labels';

/** What is asked on the page: a report, or whether the chances of stages hold. */
export type Question = ReportKind | 'chances';

export const questionLabel: Readonly<Record<Question, string>> = {
  ...reportLabel,
  chances: $localize`Are our chances right?`,
};

export const questionGroups: readonly { readonly words: string; readonly of: readonly Question[] }[] = [
  {
    words: $localize`Deals`,
    of: ['make-it', 'chances', 'standstill', 'pace', 'movement', 'lost', 'sources', 'close-days'],
  },
  { words: $localize`People`, of: ['answers', 'activity', 'drop-off', 'standings'] },
  { words: $localize`Customers`, of: ['retention'] },
];

export const isQuestion = (text: string | undefined): text is Question =>
  text !== undefined && Object.hasOwn(questionLabel, text);
