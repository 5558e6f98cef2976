import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { SelectedRecord } from '../../services/selected-record';
import { CalibrationPanel } from './calibration-panel';
import { ForecastPanel } from './forecast-panel';

/** Questions with numbers: will we make it, and how far our chances can be trusted. */
@Component({
  selector: 'kettle-numbers-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CalibrationPanel, ForecastPanel, MatButtonModule],
  template: `
    <div class="page">
      <div class="page-head">
        <h1 i18n>Numbers</h1>
        <span class="grow"></span>
        <div class="words" role="group" aria-label="Question" i18n-aria-label>
          @for (each of parts; track each.name) {
            <button
              matButton
              type="button"
              class="word"
              [attr.aria-pressed]="shown() === each.name"
              (click)="selected.setQuery({ part: each.name === 'forecast' ? null : each.name })"
            >
              {{ each.words }}
            </button>
          }
        </div>
      </div>
      @if (shown() === 'chances') {
        <kettle-calibration-panel />
      } @else {
        <kettle-forecast-panel
          [whose]="whose()"
          [from]="from()"
          [months]="months()"
          [pipeline]="pipeline()"
        />
      }
    </div>
  `,
})
export class NumbersPage {
  protected readonly selected = inject(SelectedRecord);
  /** The view, kept in the address. */
  readonly part = input<string>();
  readonly whose = input<string>();
  readonly from = input<string>();
  readonly months = input<string>();
  readonly pipeline = input<string>();
  protected readonly parts = [
    { name: 'forecast', words: $localize`Will we make it?` },
    { name: 'chances', words: $localize`Are our chances right?` },
  ];
  protected readonly shown = computed(() =>
    this.parts.some(({ name }) => name === this.part()) ? this.part()! : 'forecast',
  );
}
