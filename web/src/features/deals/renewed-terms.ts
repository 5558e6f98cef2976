import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { FormControl, FormGroup } from '@angular/forms';
import type { Deal, RenewedTerm } from '@kettle/contract';
import { DayField } from '../../kit/day-field';
import { field, formParts, required } from '../../kit/form';
import { DayPipe } from '../../kit/say.pipes';

export type RenewedGroup = FormGroup<{
  agreementId: FormControl<string>;
  months: FormControl<number>;
  until: FormControl<string>;
  valueMinor: FormControl<number>;
}>;

/** The next term of one agreement, as long as the last. */
export const renewedTerm = (of: Deal['renews'][number], valueMinor: number): RenewedGroup =>
  new FormGroup({
    agreementId: field<string>(of.agreementId),
    months: required<number>(of.termMonths),
    until: field(''),
    valueMinor: required<number>(valueMinor),
  });

/** A day that it ends on counts instead of its length. */
export function renewedOf(group: RenewedGroup): RenewedTerm {
  const { agreementId, months, until, valueMinor } = group.getRawValue();
  const isUntil = until !== '';
  return {
    agreementId: agreementId as RenewedTerm['agreementId'],
    ...{ months: isUntil ? null : months, until: isUntil ? until : null, valueMinor },
  };
}

/** What the agreements of a renewal are renewed with: for how long or until which day, and for how much. */
@Component({
  selector: 'kettle-renewed-terms',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, DayPipe, formParts],
  template: `
    @for (each of renews(); track each.agreementId; let at = $index) {
      @if (groups()[at]; as group) {
        <strong i18n>{{ each.name }}: the next term, from {{ each.endsOn | day: 'date' }}</strong>
        <div class="form-grid">
          <kettle-number-field
            kind="months"
            label="Term"
            i18n-label
            [formControl]="group.controls.months"
            [min]="1"
            [max]="120"
          />
          <kettle-day-field
            label="or until"
            i18n-label
            [min]="each.endsOn"
            [formControl]="group.controls.until"
          />
          <kettle-number-field
            kind="money"
            [currency]="each.currency"
            label="Value of the term"
            i18n-label
            [formControl]="group.controls.valueMinor"
          />
        </div>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
    }
  `,
})
export class RenewedTerms {
  readonly renews = input.required<Deal['renews']>();
  readonly groups = input.required<readonly RenewedGroup[]>();
}
