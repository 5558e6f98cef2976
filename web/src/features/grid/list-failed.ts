import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Failed } from '../../kit/states';
import type { ApiProblem } from '../../api/api';
import { GridView } from './grid-view';

/**
 * A list that could not be read, and what to do about it: another try; or, when its address asks for what is not there any more (a view with a
 * field that was deleted, an address that was written by hand), the list without all that.
 */
@Component({
  selector: 'kettle-list-failed',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Failed, MatButtonModule],
  template: `
    @if (problem(); as wrong) {
      @if (isAddressWrong()) {
        <p role="alert">
          <span i18n class="now">
            This view asks for something that is not there any more, or its address was changed by hand.
          </span>
          <button i18n matButton type="button" (click)="view.startOver()">Show everything</button>
        </p>
      } @else {
        <kettle-failed [problem]="wrong" (again)="again.emit()" />
      }
    }
  `,
})
export class ListFailed {
  readonly problem = input.required<ApiProblem | null>();
  readonly again = output();
  protected readonly view = inject(GridView);
  protected readonly isAddressWrong = computed(() => this.problem()?.code === 'invalid-request');
}
