import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatButtonModule } from '@angular/material/button';
import { fieldParts } from '../../kit/field';
import { PeopleWords } from '../fields/index';
import { proposeMentions } from './mentions';

/**
 * One line for colleagues: an @ and the beginning of a name proposes whom to tell. What was typed stays until `empty` is called.
 * @example <kettle-mention-box #box verb="Comment" label="Comment" (said)="send($event, box)" />
 */
@Component({
  selector: 'kettle-mention-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatAutocompleteModule, MatButtonModule],
  template: `
    <form class="spread" (submit)="$event.preventDefault(); say(box.value)">
      <mat-form-field class="small grow">
        <input
          matInput
          #box
          #names="matAutocompleteTrigger"
          maxlength="2000"
          autocomplete="off"
          [matAutocomplete]="who"
          [value]="text()"
          (input)="propose(box)"
          (keydown.enter)="takeFirst($event, box, names.panelOpen)"
          [attr.aria-label]="label()"
          placeholder="@name tells a colleague"
          i18n-placeholder
        />
        <mat-autocomplete #who="matAutocomplete" autoActiveFirstOption (optionSelected)="propose(box)">
          @for (each of mentions(); track each.name) {
            <mat-option [value]="each.text">{{ each.name }}</mat-option>
          }
        </mat-autocomplete>
      </mat-form-field>
      <button matButton="outlined">{{ verb() }}</button>
      <ng-content />
    </form>
  `,
})
export class MentionBox {
  readonly label = input.required<string>();
  readonly verb = input.required<string>();
  /** Never empty, without blanks around it. */
  readonly said = output<string>();

  private readonly people = inject(PeopleWords);
  private readonly before = signal('');
  protected readonly text = signal('');
  /** Colleagues whom an unfinished @name may mean. */
  protected readonly mentions = computed(() => proposeMentions(this.before(), this.people.colleagues()));

  /** It was taken: the next line can be typed. */
  empty(): void {
    this.text.set('');
    this.before.set('');
  }

  protected say(typed: string): void {
    if (typed.trim() !== '') this.said.emit(typed.trim());
  }

  /** What stands before the cursor decides who is proposed. */
  protected propose(box: HTMLInputElement): void {
    this.people.wake();
    this.text.set(box.value);
    this.before.set(box.value.slice(0, box.selectionStart ?? box.value.length));
  }

  /** Enter takes the name that is proposed first, also before the list has marked it: it never sends half a name. */
  protected takeFirst(event: Event, box: HTMLInputElement, isProposing: boolean): void {
    const first = this.mentions()[0];
    if (!isProposing || event.defaultPrevented || first === undefined) return;
    event.preventDefault();
    box.setRangeText(first.text, 0, box.selectionStart ?? box.value.length, 'end');
    this.propose(box);
  }
}
