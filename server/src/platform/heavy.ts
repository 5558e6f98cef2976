import type { Services } from './services';

/** Computation that a request waits for, beside the thread that answers. What is long writes what it finds to the database. */
export type HeavyTask = (services: Services, input: unknown) => Promise<unknown>;
export type HeavyTasks = Readonly<Record<string, HeavyTask>>;

/** Where heavy tasks run: a thread of their own in the running server, so that no other request waits for them. What they answer is copied. */
export interface Heavy {
  /** @throws Problem what the task threw */
  run(task: string, input: unknown): Promise<unknown>;
}

/** In the thread, or here while that is still loading or being started again: nobody waits for a thread to begin. */
export const whenReady = (thread: () => (Heavy & { isReady(): boolean }) | null, here: Heavy): Heavy => ({
  run: (task, input) => {
    const there = thread();
    return (there?.isReady() === true ? there : here).run(task, input);
  },
});

/** In the caller's own thread: for tests, the demo's generator and the bulk thread itself. */
export function heavyHere(tasks: HeavyTasks, services: () => Services): Heavy {
  return {
    run: async (task, input) => {
      const found = tasks[task];
      if (!found) throw new Error(`no heavy task is called ${task}`);
      return found(services(), input);
    },
  };
}
