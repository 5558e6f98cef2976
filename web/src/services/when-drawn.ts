import { afterNextRender } from '@angular/core';

/**
 * What comes from outside (a key, a change heard) may reach a part that was made late, after its constructor and before it was drawn: its
 * inputs are not there yet. What is handed over here is done at once in a part that was drawn, and right after the first time otherwise.
 * Made where injection works.
 * @example const drawn = whenDrawn(); stream.subscribe(() => drawn(() => this.read(this.id())));
 */
export function whenDrawn(): { (act: () => void): void; readonly is: () => boolean } {
  let waiting: (() => void)[] | null = [];
  afterNextRender(() => {
    const acts = waiting ?? [];
    waiting = null;
    for (const act of acts) act();
  });
  const drawn = (act: () => void) => {
    if (waiting === null) act();
    else waiting.push(act);
  };
  return Object.assign(drawn, { is: () => waiting === null });
}
