import type { CadenceDefinition, CadenceStep, Channel, TemplateId } from '@kettle/contract';
import { plainStep } from '@kettle/core/cadences';

/** A step of the demo: its templates go by their names. */
interface Note extends Omit<CadenceStep, 'templateIds'> {
  readonly templates: readonly string[];
}

const note = (
  channel: Channel,
  offsetDays: number,
  purpose: string,
  minutes: number,
  window: [number, number] = [9, 17],
  more: Partial<Note> = {},
): Note => ({
  ...plainStep,
  templates: [],
  channel,
  offsetDays,
  windowStart: window[0] * 60,
  windowEnd: window[1] * 60,
  minutes,
  purpose,
  fallbackChannel: channel === 'call' ? 'email' : null,
  ...more,
});

/** The cadences of the demo, beside the one that every installation starts with. */
export const demoCadences: readonly { readonly name: string; readonly steps: readonly Note[] }[] = [
  {
    name: 'After the water test',
    steps: [
      note('call', 0, 'go through the result', 8, [9, 12]),
      note('email', 1, 'the result in two sentences', 8, [9, 17], { templates: ['Your water test'] }),
      note('call', 2, 'did it arrive, questions', 6, [13, 17]),
      note('email', 2, 'what hardness costs the boiler', 6, [9, 12], {
        templates: ['Hardness and your boiler', 'A neighbour’s boiler'],
      }),
      note('text', 1, 'shall we come by', 2, [10, 17], {
        mode: 'by-itself',
        templates: ['Shall we come by'],
        skipWhen: ['spoke'],
      }),
      note('call', 2, 'one more try at another hour', 6, [9, 11]),
    ],
  },
  {
    name: 'Trade fair follow-up',
    steps: [
      note('email', 0, 'glad we met, one question', 6, [9, 17], {
        mode: 'by-itself',
        templates: ['Glad we met'],
      }),
      note('call', 2, 'the question from the fair', 6),
      note('email', 4, 'an example from their trade', 6),
      note('call', 3, 'a date for a survey', 6),
    ],
  },
  {
    name: 'Offer is out',
    steps: [
      note('call', 2, 'did the offer arrive', 6),
      note('call', 3, 'what is still open', 6),
      note('email', 2, 'what happens next', 6),
    ],
  },
  {
    name: 'Win back',
    steps: [
      note('call', 0, 'how are things since', 8),
      note('email', 5, 'what has changed with us', 8),
      note('call', 5, 'a service at the old price', 8),
    ],
  },
  {
    name: 'New in the county',
    steps: [
      note('visit', 0, 'introduce ourselves', 20, [10, 16]),
      note('email', 1, 'thanks and the sample kit', 6),
      note('call', 5, 'what did the sample say', 6),
    ],
  },
];

/** A cadence's definition, once its templates are there. */
export function definitionOf(
  steps: readonly Note[],
  idOfTemplate: (name: string) => TemplateId,
): CadenceDefinition {
  return {
    answeredStep: null,
    steps: steps.map(({ templates, ...step }) => ({ ...step, templateIds: templates.map(idOfTemplate) })),
  };
}
