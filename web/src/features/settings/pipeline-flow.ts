import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { Pipeline } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { ChoiceField } from '../../kit/choice-field';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';

/** How deals go on in a pipeline, and behind it: each change holds at once, and can be undone. */
@Component({
  selector: 'kettle-pipeline-flow',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatCheckboxModule, ChoiceField],
  template: `
    <h3 i18n>How deals go on</h3>
    <mat-checkbox i18n [checked]="pipeline().movesOn" (change)="save({ movesOn: !pipeline().movesOn })">
      A deal goes to the next stage by itself once its stage’s brief is done
    </mat-checkbox>
    <mat-checkbox
      i18n
      [checked]="pipeline().isForRenewals"
      (change)="save({ isForRenewals: !pipeline().isForRenewals })"
    >
      Renewals begin in its first stage
    </mat-checkbox>
    @if (others().length > 1) {
      <kettle-choice-field
        label="A won deal is usually handed on to"
        i18n-label
        [options]="others()"
        [value]="pipeline().handsOnTo"
        (valueChange)="save({ handsOnTo: $event })"
      />
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
      justify-items: start;
    }
    kettle-choice-field {
      inline-size: min(100%, 20rem);
    }
  `,
})
export class PipelineFlow {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  readonly pipeline = input.required<Pipeline>();
  readonly all = input.required<readonly Pipeline[]>();
  readonly changed = output();
  protected readonly others = computed(() => [
    { value: null, words: $localize`no other pipeline` },
    ...this.all()
      .filter(({ id }) => id !== this.pipeline().id)
      .map(({ id, name }) => ({ value: id, words: name })),
  ]);

  protected save(part: Partial<Pick<Pipeline, 'movesOn' | 'handsOnTo' | 'isForRenewals'>>): void {
    const { id, name, version, movesOn, handsOnTo } = this.pipeline();
    const changeId = v7();
    this.api
      .call('changeFlow', { params: { id }, body: { version, movesOn, handsOnTo, ...part } }, changeId)
      .subscribe({
        next: () => {
          this.undo.offer($localize`${name}:name: is changed.`, changeId, () => this.changed.emit());
          this.changed.emit();
        },
        error: (error: unknown) => {
          this.notices.problem(error);
          this.changed.emit();
        },
      });
  }
}
