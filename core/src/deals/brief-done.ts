/** What a deal's stage asks for, as far as it was done. */
export interface BriefSoFar {
  readonly prompts: readonly { readonly isRequired: boolean; readonly isTicked: boolean }[];
  /** Tasks that the brief plans. */
  readonly tasks: number;
  /** Of those that were made, how many are open. */
  readonly tasksOpen: number;
}

/**
 * Whether all that a stage's brief asks for is done: required prompts ticked, its tasks finished. A brief that asks for nothing never is.
 * @example isBriefDone({ prompts: [{ isRequired: true, isTicked: true }], tasks: 1, tasksOpen: 0 }); // true
 */
export const isBriefDone = ({ prompts, tasks, tasksOpen }: BriefSoFar): boolean =>
  prompts.length + tasks > 0 &&
  tasksOpen === 0 &&
  prompts.every(({ isRequired, isTicked }) => isTicked || !isRequired);
