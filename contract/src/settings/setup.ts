import * as z from 'zod';
import { resolved } from '../base/values';

/** What a new installation is set up with, in the order in which it makes sense. */
export const setupSteps = ['organisation', 'hours', 'people', 'pipeline', 'contacts', 'mail'] as const;

export const setupStep = z.enum(setupSteps);

export type SetupStep = z.infer<typeof setupStep>;

export const setup = z.object({
  version: z.int(),
  steps: z.array(
    z.object({
      name: setupStep,
      /** Told from what is there, not from a mark. */
      isDone: z.boolean(),
      isSkipped: z.boolean(),
    }),
  ),
});

export type Setup = z.infer<typeof setup>;

export const changeSetup = z.object({
  version: z.int(),
  resolved,
  skipped: z.array(setupStep).max(setupSteps.length),
});
