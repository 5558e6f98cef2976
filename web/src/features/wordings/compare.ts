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
  name: $localize`Name`,
  channel: $localize`Channel`,
  subject: $localize`Subject`,
  body: $localize`Text`,
  definition: $localize`Steps`,
  isRetired: $localize`Use`,
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
    if (path === 'isRetired') return value === true ? 'retired' : $localize`in use`;
    if (path === 'channel') return value === 'text' ? $localize`a text` : $localize`an e-mail`;
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
    const way = step.mode === 'by-itself' ? $localize`goes by itself` : $localize`by hand`;
    const wait =
      at === 0 && step.offsetDays === 0
        ? $localize`at once`
        : $localize`after ${sayCount(step.offsetDays, $localize`working day|working days`)}`;
    const texts = step.templateIds.map(nameOf).join(' or ');
    const window = $localize`${sayMinute(step.windowStart)}:windowStart: to ${sayMinute(step.windowEnd)}:windowEnd:`;
    return `${at + 1}. ${channelLabel[step.channel]}, ${way}, ${wait}, ${window}: ${step.purpose}${texts && ` (${texts})`}`;
  });
  return [...lines, answeredStep === null ? '' : $localize`An answer leads to step ${answeredStep + 1}`]
    .join('\n')
    .trim();
}
