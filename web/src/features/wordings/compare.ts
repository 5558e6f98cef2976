import type { CadenceDefinition, CadenceSummary, Snippet, Template, Wording } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { sayCount } from '@kettle/core/locale';
import { sayMinute } from '@kettle/core/time';

/** One field of a text or cadence in words: as it is in use, and as it is asked for. */
export interface ComparedField {
  readonly path: string;
  readonly label: string;
  readonly now: string;
  readonly asked: string;
}

export type InUse = Template | Snippet | CadenceSummary;

const labels: Readonly<Record<string, string>> = {
  name: 'Name',
  channel: 'Channel',
  subject: 'Subject',
  body: 'Text',
  definition: 'Steps',
  isRetired: 'Use',
};

/** The fields that a change is about; those it leaves as they are in use are left out. */
export function compare(
  asked: Wording['asked'],
  inUse: InUse | null,
  nameOf: (templateId: string) => string,
): ComparedField[] {
  const say = (path: string, value: unknown): string => {
    if (value === undefined || value === null) return '';
    if (path === 'definition') return sayDefinition(value as CadenceDefinition, nameOf);
    if (path === 'isRetired') return value === true ? 'retired' : 'in use';
    if (path === 'channel') return value === 'text' ? 'a text' : 'an e-mail';
    return String(value);
  };
  const known = (inUse ?? {}) as unknown as Readonly<Record<string, unknown>>;
  return Object.entries(labels)
    .map(([path, label]) => ({ path, label, now: say(path, known[path]), asked: say(path, asked[path]) }))
    .filter(({ path, now, asked: words }) => path in asked && now !== words)
    .filter(({ path }) => inUse !== null || path !== 'isRetired');
}

/** The steps in words, a line for each. */
export function sayDefinition(
  { steps, answeredStep }: CadenceDefinition,
  nameOf: (id: string) => string,
): string {
  const lines = steps.map((step, at) => {
    const way = step.mode === 'by-itself' ? 'goes by itself' : 'by hand';
    const wait =
      at === 0 && step.offsetDays === 0 ? 'at once' : `after ${sayCount(step.offsetDays, 'working day')}`;
    const texts = step.templateIds.map(nameOf).join(' or ');
    const window = `${sayMinute(step.windowStart)} to ${sayMinute(step.windowEnd)}`;
    return `${at + 1}. ${channelLabel[step.channel]}, ${way}, ${wait}, ${window}: ${step.purpose}${texts && ` (${texts})`}`;
  });
  return [...lines, answeredStep === null ? '' : `An answer leads to step ${answeredStep + 1}`]
    .join('\n')
    .trim();
}
