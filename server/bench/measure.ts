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

async function time(work: () => unknown): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

function median(values: readonly number[]): number {
  return [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)]!;
}
