import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';
import { KitField, kitField } from './kit-field';

/**
 * Words in one line, in a box of its own: for the door alone, where Material's form field (15 kB) would weigh more than the page.
 * @example <kettle-light-field label="Password" type="password" [formControl]="form.controls.password" />
 */
@Component({
  selector: 'kettle-light-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [kitField(() => LightField)],
  template: `
    <label>
      <span [class.must]="isRequired()">{{ label() }}</span>
      <input
        #box
        [type]="type()"
        [autocomplete]="remembered()"
        [value]="value()"
        (input)="put(box.value)"
        (blur)="leave()"
        [disabled]="isDisabled()"
        [attr.aria-required]="isRequired()"
        [attr.aria-invalid]="wrong() ? true : null"
        [attr.aria-describedby]="wrong() ? problemId : null"
      />
    </label>
    @if (wrong(); as words) {
      <span class="wrong" [id]="problemId">{{ words }}</span>
    }
  `,
  styles: `
    :host,
    label {
      display: grid;
      gap: 3px;
    }
    label > span {
      color: var(--text-soft);
      font-size: var(--text-small);
    }
    /* Its mark is not read out: the input says that it is required. */
    .must::after {
      content: ' *' / '';
    }
    input {
      min-block-size: 32px;
      padding: 5px 9px;
      border: 1px solid color-mix(in srgb, var(--text-soft) 55%, transparent);
      border-radius: var(--radius);
      background: var(--sheet);
      color: var(--text);
      font: inherit;
    }
    input[aria-invalid] {
      border-color: var(--accent);
    }
  `,
})
export class LightField extends KitField<string> {
  private static count = 0;
  readonly value = model('');
  protected readonly empty = '';
  readonly type = input<'text' | 'email' | 'password'>('text');
  /** What the browser may fill in, by its name in HTML. */
  readonly remembered = input('off');
  protected readonly problemId = `light-field-${(LightField.count += 1)}`;
}
