// Keeps a program running: one that ends by itself, however it ends, is started again, each time after a longer wait.

const usual = { firstWaitMillis: 500, mostWaitMillis: 30_000, calmMillis: 60_000, mostFailures: 8 };

/**
 * Starts a program and starts it again whenever it ends.
 * @param start starts it and answers, once it works, with `{ ended }`, a promise of how it ends; throws when it never worked
 * @param setting `isStopping` says that an end is wanted; `tell` is told what happens; `giveUp` is called when it does not work time after time
 * @returns once the program works for the first time
 */
export async function keepRunning(name, start, { isStopping, tell, giveUp, ...changed }) {
  const { firstWaitMillis, mostWaitMillis, calmMillis, mostFailures } = { ...usual, ...changed };
  let failures = 0;
  const watch = async (ended) => {
    const since = Date.now();
    const how = await ended;
    if (isStopping()) return;
    // What ran well for a while and died is no worse than before.
    if (Date.now() - since > calmMillis) failures = 0;
    await again(how);
  };
  const again = async (how) => {
    failures += 1;
    if (failures > mostFailures)
      return giveUp(`${name} ended ${failures} times in a row (${how}). Look at what it said.`);
    const wait = Math.min(mostWaitMillis, firstWaitMillis * 2 ** (failures - 1));
    tell(`${name} ended (${how}); it is started again in ${wait / 1000} s.`);
    await new Promise((resolve) => setTimeout(resolve, wait));
    if (isStopping()) return;
    try {
      const { ended } = await start();
      tell(`${name} works again.`);
      void watch(ended);
    } catch (error) {
      await again(error.message);
    }
  };
  const { ended } = await start();
  void watch(ended);
}

/** How a process ended, in words: `by SIGKILL`, `with code 1`. */
export const endOf = (child) =>
  new Promise((resolve) =>
    child.once('exit', (code, signal) => resolve(signal === null ? `with code ${code}` : `by ${signal}`)),
  );
