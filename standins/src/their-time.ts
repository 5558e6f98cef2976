/** Time as the people outside live it: their minutes pass as fast as the speed says, which can be changed meanwhile. */
export class TheirTime {
  private readonly waiting = new Set<{ left: number; readonly act: () => void }>();
  private last = performance.now();
  private readonly timer: NodeJS.Timeout;

  /** `minutesPerSecond`: how many of their minutes pass in a second of ours; 1/60 is life itself. */
  constructor(private minutesPerSecond: number) {
    this.timer = setInterval(() => this.tick(), 50);
  }

  get speed(): number {
    return this.minutesPerSecond;
  }

  set speed(minutesPerSecond: number) {
    this.tick();
    this.minutesPerSecond = minutesPerSecond;
  }

  get waitingCount(): number {
    return this.waiting.size;
  }

  after(minutes: number, act: () => void): void {
    this.waiting.add({ left: minutes, act });
  }

  stop(): void {
    clearInterval(this.timer);
  }

  private tick(): void {
    const now = performance.now();
    const passed = ((now - this.last) / 1000) * this.minutesPerSecond;
    this.last = now;
    for (const each of [...this.waiting]) {
      each.left -= passed;
      if (each.left > 0) continue;
      this.waiting.delete(each);
      each.act();
    }
  }
}
