import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, contentChild, input, TemplateRef } from '@angular/core';
import type { Reading } from '../../api/reading';
import { Failed, Waiting } from '../../kit/states';

/** A card's content once it is read, by a template; before, that it is being read, or why it could not be. */
@Component({
  selector: 'kettle-card-body',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Failed, NgTemplateOutlet, Waiting],
  template: `
    @if (of().value() !== null) {
      <ng-container [ngTemplateOutlet]="content()" />
    } @else if (of().state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="of().again()" />
      } @else {
        <kettle-waiting />
      }
    }
  `,
})
export class CardBody {
  readonly of = input.required<Reading<never, unknown>>();
  protected readonly content = contentChild.required<TemplateRef<unknown>>(TemplateRef);
}
