import { COMMA, ENTER, SEMICOLON } from '@angular/cdk/keycodes';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  input,
  model,
  signal,
  viewChild,
} from '@angular/core';
import { MatAutocompleteModule, type MatAutocompleteTrigger } from '@angular/material/autocomplete';
import { type MatChipInputEvent, MatChipsModule } from '@angular/material/chips';
import { MatIcon } from '@angular/material/icon';
import { fieldParts } from './field';
import { KitField, kitField } from './kit-field';

const mostProposed = 8;

/**
 * Words that a record is marked with: Enter or a comma ends one, the cross or Backspace removes it, and those in use are proposed.
 * @example <kettle-tags-field label="Tags" [formControl]="form.controls.tags" [proposals]="known()" />
 */
@Component({
  selector: 'kettle-tags-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatAutocompleteModule, MatChipsModule, MatIcon],
  providers: [kitField(() => TagsField)],
  template: `
    <mat-form-field>
      <mat-label>{{ label() }}</mat-label>
      <!-- What is typed stands beside the grid, not in it: to a reader a grid holds rows. -->
      <mat-chip-grid #chips [attr.aria-label]="label()" [disabled]="isDisabled()">
        @for (tag of value(); track tag) {
          <mat-chip-row (removed)="remove(tag)">
            {{ tag }}
            <button matChipRemove type="button" [attr.aria-label]="texts.remove(tag)">
              <mat-icon svgIcon="close" />
            </button>
          </mat-chip-row>
        }
      </mat-chip-grid>
      <input
        #box
        [matChipInputFor]="chips"
        [matChipInputSeparatorKeyCodes]="separators"
        [matChipInputAddOnBlur]="!isOpen()"
        (matChipInputTokenEnd)="addTyped($event)"
        #trigger="matAutocompleteTrigger"
        [matAutocomplete]="inUse"
        (input)="typed.set(box.value)"
        (blur)="leave()"
        [placeholder]="placeholder()"
        [attr.aria-label]="label()"
        autocomplete="off"
      />
      <mat-autocomplete
        #inUse="matAutocomplete"
        (opened)="isOpen.set(true)"
        (closed)="isOpen.set(false)"
        (optionSelected)="add($event.option.value)"
      >
        @for (word of like(); track word) {
          <mat-option [value]="word">{{ word }}</mat-option>
        }
      </mat-autocomplete>
      @if (wrong(); as words) {
        <mat-hint class="wrong">{{ words }}</mat-hint>
      }
    </mat-form-field>
  `,
  styles: `
    :host {
      display: inline-grid;
    }
  `,
})
export class TagsField extends KitField<readonly string[]> {
  protected readonly texts = {
    remove: (tag: string | number) => $localize`Remove ${tag}:tag:`,
  };

  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  private readonly trigger = viewChild.required<MatAutocompleteTrigger>('trigger');
  readonly value = model<readonly string[]>([]);
  protected readonly empty: readonly string[] = [];
  /** Tags in use, the most used first. */
  readonly proposals = input<readonly string[]>([]);
  protected readonly separators = [ENTER, COMMA, SEMICOLON];
  protected readonly typed = signal('');
  protected readonly isOpen = signal(false);
  protected readonly like = computed(() => {
    const typed = this.typed().trim().toLowerCase();
    return this.proposals()
      .filter((word) => word.toLowerCase().includes(typed) && !this.value().includes(word))
      .slice(0, mostProposed);
  });

  protected addTyped(event: MatChipInputEvent): void {
    // Enter on a proposal that was gone to takes the proposal.
    if (this.trigger().activeOption === null) this.add(event.value);
  }

  protected add(word: string): void {
    const tag = word.trim();
    this.box().nativeElement.value = '';
    this.typed.set('');
    if (tag !== '' && !this.value().includes(tag)) this.put([...this.value(), tag]);
  }

  protected remove(tag: string): void {
    this.put(this.value().filter((each) => each !== tag));
  }
}
