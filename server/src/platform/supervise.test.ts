import { keepRunning } from '../../../scripts/supervise.mjs';

/** A program that ends when a test says so, watched. */
function watched(changed: { calmMillis?: number; mostFailures?: number } = {}) {
  const ends: ((how: string) => void)[] = [];
  const said: string[] = [];
  const given: string[] = [];
  let failing = 0;
  let isStopping = false;
  const run = keepRunning(
    'The server',
    async () => {
      if (failing > 0) {
        failing -= 1;
        throw new Error('with code 1');
      }
      return { ended: new Promise<string>((resolve) => ends.push(resolve)) };
    },
    {
      isStopping: () => isStopping,
      tell: (words) => said.push(words),
      giveUp: (words) => given.push(words),
      firstWaitMillis: 1,
      mostWaitMillis: 4,
      ...changed,
    },
  );
  return {
    run,
    said,
    given,
    starts: () => ends.length,
    end: (how: string) => ends.at(-1)!(how),
    failNext: (times: number) => (failing = times),
    stop: () => (isStopping = true),
  };
}

async function until(isSo: () => boolean): Promise<void> {
  for (let n = 0; n < 400 && !isSo(); n += 1) await new Promise((resolve) => setTimeout(resolve, 5));
  expect(isSo()).toBe(true);
}

test('what ends by itself is started again, each time after a longer wait', async () => {
  const it = watched();
  await it.run;
  for (const [n, how] of ['by SIGKILL', 'with code 0', 'by SIGSEGV', 'with code 1'].entries()) {
    it.end(how);
    await until(() => it.starts() === n + 2);
  }
  expect(it.said.filter((words) => words.includes('ended'))).toEqual([
    'The server ended (by SIGKILL); it is started again in 0.001 s.',
    'The server ended (with code 0); it is started again in 0.002 s.',
    'The server ended (by SIGSEGV); it is started again in 0.004 s.',
    'The server ended (with code 1); it is started again in 0.004 s.',
  ]);
});

test('what ran calmly in between begins with the shortest wait again', async () => {
  const it = watched({ calmMillis: -1 });
  await it.run;
  it.end('by SIGKILL');
  await until(() => it.starts() === 2);
  it.end('by SIGKILL');
  await until(() => it.starts() === 3);
  expect(it.said.filter((words) => words.includes('0.001'))).toHaveLength(2);
});

test('a start that fails is tried again, and given up after so many', async () => {
  const it = watched({ mostFailures: 3 });
  await it.run;
  it.failNext(9);
  it.end('by SIGKILL');
  await until(() => it.given.length === 1);
  expect(it.given[0]).toContain('ended 4 times in a row (with code 1)');
});

test('an end that is wanted is not told, and nothing starts again', async () => {
  const it = watched();
  await it.run;
  it.stop();
  it.end('with code 0');
  await new Promise((resolve) => setTimeout(resolve, 30));
  expect([it.starts(), it.said]).toEqual([1, []]);
});

test('what never worked is not kept: the first start throws', async () => {
  const start = async () => {
    throw new Error('Port 4300 is taken');
  };
  const silent = { isStopping: () => false, tell: () => undefined, giveUp: () => undefined };
  await expect(keepRunning('The server', start, silent)).rejects.toThrow('Port 4300 is taken');
});
