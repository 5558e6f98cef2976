import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormControl, type ValidatorFn } from '@angular/forms';
import type { RoadSettings } from '@kettle/contract';
import { readPoint } from '@kettle/core/route';
import { Api } from '../../api/api';
import { keptSettings, pageFormParts, RecordForm, required } from '../../kit/form';

const placeOrNothing: ValidatorFn = ({ value }) =>
  value === '' || readPoint(String(value)) !== null
    ? null
    : { unread: $localize`is no postcode that is known here: type degrees such as 54.02, -5.31` };

/** How roads are, and where the office is: what days on the road are reckoned with. */
@Component({
  selector: 'kettle-road-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts],
  template: `
    <section aria-labelledby="roads">
      <h2 i18n id="roads">Days on the road</h2>
      <p i18n class="soft">
        Ways are straight lines, made longer by the factor and driven at the speed below; each visit has its
        minutes to park.
      </p>
      <kettle-page-form
        act="Save the roads"
        i18n-act
        [form]="form"
        [stored]="settings.stored"
        (save)="settings.save()"
      >
        <div class="form-grid">
          <kettle-number-field
            label="Roads are longer than the straight line by the factor"
            i18n-label
            kind="decimal"
            [formControl]="form.controls.factor"
            [min]="1"
            [max]="5"
          />
          <kettle-number-field
            label="Kilometres an hour"
            i18n-label
            [formControl]="form.controls.kilometresAnHour"
            [min]="5"
            [max]="130"
          />
          <kettle-number-field
            label="Minutes to park"
            i18n-label
            kind="minutes"
            [formControl]="form.controls.parkingMinutes"
            [min]="0"
            [max]="60"
          />
          <kettle-text-field
            label="Office: postcode, or degrees such as 54.02, -5.31"
            i18n-label
            [formControl]="form.controls.office"
          />
        </div>
      </kettle-page-form>
    </section>
  `,
  styles: `
    :host {
      display: block;
      margin-block-start: var(--space-5);
    }
  `,
  styleUrl: './settings-part.scss',
})
export class RoadSettingsPart {
  private readonly api = inject(Api);
  protected readonly form = new RecordForm({
    factor: required<number>(null),
    kilometresAnHour: required<number>(null),
    parkingMinutes: required<number>(null),
    office: new FormControl('', { nonNullable: true, validators: placeOrNothing }),
  });
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('roadSettings'),
    save: (body: RoadSettings, changeId) => this.api.call('changeRoadSettings', { body }, changeId),
    body: (stored) => {
      const { office: words, ...roads } = this.form.getRawValue();
      const text = words.trim();
      const isSame = text === stored.office?.words;
      const point = readPoint(text);
      return { ...stored, ...roads, office: isSame ? stored.office : point && { ...point, words: text } };
    },
    fill: (stored) => this.form.patchValue({ ...stored, office: stored.office?.words ?? '' }),
    saved: $localize`Saved: it holds from now on.`,
  });
}
