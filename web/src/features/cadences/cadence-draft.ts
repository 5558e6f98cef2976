import { computed, inject, Injectable, signal } from '@angular/core';
import type { CadenceDefinition, CadenceStep, CadenceSummary } from '@kettle/contract';
import { plainStep, type StaveChange } from '@kettle/core/cadences';
import { Drafts } from '../../services/drafts';

/** For each step of the saved definition where it stands now; null when it is gone. */
export type StepMapping = readonly (number | null)[];

interface Held {
  readonly name: string;
  readonly definition: CadenceDefinition;
  readonly mapping: StepMapping;
  /** The version of the cadence this was written over; null while it is not saved. */
  readonly basedOn: number | null;
}

const firstSteps: CadenceStep[] = [
  { channel: 'call', offsetDays: 0, minutes: 6, purpose: $localize`introduce ourselves` },
  { channel: 'email', offsetDays: 1, minutes: 8, purpose: $localize`a personal line` },
  { channel: 'call', offsetDays: 3, minutes: 6, purpose: $localize`ask what they think` },
].map((step) => ({ ...plainStep, windowStart: 570, windowEnd: 1020, ...step }) as CadenceStep);

/** What a new cadence begins with. */
export const newCadence = { name: '', definition: { steps: firstSteps, answeredStep: null } };

const heldOf = ({
  name,
  definition,
  version,
}: Pick<CadenceSummary, 'name' | 'definition'> & { version?: number }): Held => ({
  name,
  definition,
  mapping: definition.steps.map((_, index) => index),
  basedOn: version ?? null,
});

const draftKey = (id: string) => `cadence.${id}`;

/** Where the steps of the cadence called `id` are kept until they are saved; `new` for one that is not there yet. */
export function keepDraft(
  drafts: Drafts,
  id: string,
  text: { name: string; definition: CadenceDefinition },
): void {
  drafts.keepForm(draftKey(id), heldOf(text));
}

/** A cadence while it is written: each change can be undone, and all of it survives a reload. */
@Injectable()
export class CadenceDraft {
  private readonly drafts = inject(Drafts);
  private readonly saved = signal<Held>(heldOf(newCadence));
  private readonly held = signal<Held>(heldOf(newCadence));
  private readonly past = signal<readonly Held[]>([]);
  private id = 'new';

  readonly name = computed(() => this.held().name);
  readonly definition = computed(() => this.held().definition);
  readonly steps = computed(() => this.held().definition.steps);
  readonly mapping = computed(() => this.held().mapping);
  readonly basedOn = computed(() => this.held().basedOn);
  readonly canUndo = computed(() => this.past().length > 0);
  readonly isChanged = computed(() => textOf(this.held()) !== textOf(this.saved()));

  /** Opens what is saved, or what was written over it before and not saved. */
  open(id: string, saved: Pick<CadenceSummary, 'name' | 'definition'> & { version?: number }): void {
    this.id = id;
    this.past.set([]);
    this.saved.set(heldOf(saved));
    this.held.set(this.drafts.readForm<Held>(draftKey(id)) ?? heldOf(saved));
  }

  /** Forgets what was written. */
  drop(): void {
    this.drafts.keepForm(draftKey(this.id), null);
    this.held.set(this.saved());
    this.past.set([]);
  }

  rename(name: string): void {
    this.put({ ...this.held(), name });
  }

  goOnAt(answeredStep: number | null): void {
    this.change({ definition: { ...this.definition(), answeredStep } });
  }

  changeStep(index: number, part: Partial<CadenceStep>): void {
    const steps = this.steps().map((step, at) => (at === index ? { ...step, ...part } : step));
    this.change({ definition: { ...this.definition(), steps } });
  }

  /** Takes over a change made on the stave, and what follows from it for steps named elsewhere. */
  take({ steps, places }: StaveChange): void {
    const placeOf = (index: number | null) => (index === null ? null : (places[index] ?? null));
    this.change({
      definition: { steps, answeredStep: placeOf(this.definition().answeredStep) },
      mapping: this.mapping().map(placeOf),
    });
  }

  replace(text: { name: string; definition: CadenceDefinition }): void {
    this.change({ ...text, mapping: this.mapping().map(() => null) });
  }

  undo(): void {
    const before = this.past().at(-1);
    if (before === undefined) return;
    this.past.update((all) => all.slice(0, -1));
    this.put(before);
  }

  private change(part: Partial<Held>): void {
    this.past.update((all) => [...all, this.held()]);
    this.put({ ...this.held(), ...part });
  }

  private put(held: Held): void {
    this.held.set(held);
    this.drafts.keepForm(draftKey(this.id), this.isChanged() ? held : null);
  }
}

const textOf = ({ name, definition }: Held) => JSON.stringify([name, definition]);
