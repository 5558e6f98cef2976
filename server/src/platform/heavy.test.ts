import { heavyHere, whenReady, type Heavy } from './heavy';
import type { Services } from './services';

const services = {} as Services;
const here = heavyHere({ ask: async (_, input) => `here ${String(input)}` }, () => services);
const beside = (isReady: boolean): Heavy & { isReady(): boolean } => ({
  isReady: () => isReady,
  run: async (_, input) => `there ${String(input)}`,
});

test('a task goes to the thread once that is there, has loaded and lives; before, it is done here', async () => {
  let thread: ReturnType<typeof beside> | null = null;
  const either = whenReady(() => thread, here);
  expect(await either.run('ask', 1)).toBe('here 1');
  thread = beside(false);
  expect(await either.run('ask', 2)).toBe('here 2');
  thread = beside(true);
  expect(await either.run('ask', 3)).toBe('there 3');
});

test('a task that nobody registered is a fault', async () => {
  await expect(here.run('other', 1)).rejects.toThrow('no heavy task is called other');
});
