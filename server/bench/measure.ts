/** One measured figure as a line of JSON: a value, what it is set against, and the ratio of the two within this run. */
export interface Figure {
  readonly name: string;
  readonly value: number;
  readonly unit: string;
  readonly baseline: number;
  readonly ratio: number;
  readonly aim?: number;
  readonly note?: string;
}

export function print(figure: Figure): void {
  const rounded = {
    ...figure,
    value: round(figure.value),
    baseline: round(figure.baseline),
    ratio: round(figure.ratio),
  };
  process.stdout.write(`${JSON.stringify(rounded)}\n`);
}

const round = (value: number) => Math.round(value * 1000) / 1000;

/** Median times of two ways to do a thing, in milliseconds, taken turn about so that both meet the same machine. */
export async function compare(
  times: number,
  ours: () => unknown,
  bare: () => unknown,
): Promise<{ ours: number; bare: number }> {
  const [a, b]: [number[], number[]] = [[], []];
  for (let n = 0; n < times + 3; n += 1) {
    const first = await time(ours);
    const second = await time(bare);
    // The first turns warm both up.
    if (n < 3) continue;
    a.push(first);
    b.push(second);
  }
  return { ours: median(a), bare: median(b) };
}

/**
 * 95th percentiles, in milliseconds, of two ways to do a thing while so many people do it at once; the two are taken in
 * turn, in rounds, so that both meet the same machine. Each call is given its own number.
 */
export async function compareAtOnce(
  { people, each, rounds }: { people: number; each: number; rounds: number },
  ours: (n: number) => Promise<unknown>,
  bare: (n: number) => Promise<unknown>,
): Promise<{ ours: number; bare: number }> {
  let n = 0;
  const round = async (work: (n: number) => Promise<unknown>): Promise<number[]> => {
    const times: number[] = [];
    await Promise.all(
      Array.from({ length: people }, async () => {
        for (let turn = 0; turn < each; turn += 1) times.push(await time(() => work((n += 1))));
      }),
    );
    return times;
  };
  await round(ours);
  await round(bare);
  const [a, b]: [number[], number[]] = [[], []];
  for (let turn = 0; turn < rounds; turn += 1) {
    a.push(...(await round(ours)));
    b.push(...(await round(bare)));
  }
  return { ours: percentile(a, 0.95), bare: percentile(b, 0.95) };
}

export function percentile(values: readonly number[], part: number): number {
  const sorted = [...values].sort((x, y) => x - y);
  return sorted[Math.min(sorted.length - 1, Math.ceil(part * sorted.length) - 1)]!;
}

async function time(work: () => unknown): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

function median(values: readonly number[]): number {
  return [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)]!;
}
