import { plainStep } from '@kettle/core/cadence';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CadenceStep, Channel } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { sayMinute } from '@kettle/core/time';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { Stave } from './stave';

const firstSteps: readonly CadenceStep[] = [
  {
    channel: 'call',
    offsetDays: 0,
    windowStart: 570,
    windowEnd: 1020,
    minutes: 6,
    purpose: 'introduce ourselves',
    ...plainStep,
  },
  {
    channel: 'email',
    offsetDays: 1,
    windowStart: 570,
    windowEnd: 720,
    minutes: 8,
    purpose: 'a personal line',
    ...plainStep,
  },
  {
    channel: 'call',
    offsetDays: 3,
    windowStart: 570,
    windowEnd: 960,
    minutes: 6,
    purpose: 'ask what they think',
    ...plainStep,
  },
];

/** Makes a cadence from a list of steps; the stave above shows it while it is written. */
@Component({
  selector: 'kettle-cadence-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule, Stave],
  templateUrl: './cadence-dialog.html',
  styleUrl: './cadence-dialog.scss',
})
export class CadenceDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<CadenceDialog>);
  protected readonly labels = channelLabel;
  protected readonly channels = Object.keys(channelLabel) as Channel[];
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly steps = signal<readonly CadenceStep[]>(firstSteps);
  protected readonly definition = computed(() => ({ steps: [...this.steps()] }));
  protected name = '';

  protected time(minute: number): string {
    return sayMinute(minute);
  }

  protected change(index: number, part: Partial<CadenceStep>): void {
    this.steps.update((steps) => steps.map((step, at) => (at === index ? { ...step, ...part } : step)));
  }

  protected setTime(index: number, key: 'windowStart' | 'windowEnd', text: string): void {
    const [hour = 0, minute = 0] = text.split(':').map(Number);
    this.change(index, { [key]: hour * 60 + minute });
  }

  protected add(): void {
    this.steps.update((steps) => [...steps, { ...(steps.at(-1) ?? firstSteps[0]!), offsetDays: 2 }]);
  }

  protected remove(index: number): void {
    this.steps.update((steps) => steps.filter((_, at) => at !== index));
  }

  protected save(): void {
    this.api.call('createCadence', { body: { name: this.name, definition: this.definition() } }).subscribe({
      next: (made) => this.dialog.close(made),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
