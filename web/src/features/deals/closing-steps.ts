import { ChangeDetectionStrategy, Component, computed, inject, input, model } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { channelLabel, type ClosingSteps } from '@kettle/contract';
import { sayDay } from '@kettle/core/time';
import { CurrentUser } from '../../services/current-user';

/**
 * Planned steps and cadences that closing a deal ends, or steps that opening it again brings back. With a set of those that stay each
 * can be ticked; without one they are only told.
 */
@Component({
  selector: 'kettle-closing-steps',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatCheckboxModule],
  template: `
    <ul class="steps">
      @for (line of lines(); track line.id) {
        <li>
          @if (kept(); as staying) {
            <mat-checkbox [checked]="staying.has(line.id)" (change)="turn(line.id)">
              {{ line.words }}
            </mat-checkbox>
          } @else {
            {{ line.words }}
          }
        </li>
      }
    </ul>
  `,
  styles: `
    .steps {
      margin-block: var(--space-1) 0;
      max-block-size: 12rem;
      overflow-y: auto;
      padding-inline-start: var(--space-4);

      &:has(mat-checkbox) {
        list-style: none;
        padding-inline-start: 0;
      }
    }
  `,
})
export class ClosingStepList {
  private readonly user = inject(CurrentUser);
  readonly planned = input.required<ClosingSteps>();
  /** Ids of the steps and runs that stay; null where nothing is asked. */
  readonly kept = model<ReadonlySet<string> | null>(null);

  protected readonly lines = computed(() => {
    const { steps, runs } = this.planned();
    const today = this.user.today();
    return [
      ...steps.map(({ id, channel, dueOn, purpose }) => ({
        id: id as string,
        words: `${channelLabel[channel]} · ${sayDay(dueOn, today)} · ${purpose}`,
      })),
      ...runs.map(({ id, cadenceName }) => ({
        id: id as string,
        words: $localize`Cadence “${cadenceName}:name:”`,
      })),
    ];
  });

  protected turn(id: string): void {
    const next = new Set(this.kept());
    if (!next.delete(id)) next.add(id);
    this.kept.set(next);
  }
}
