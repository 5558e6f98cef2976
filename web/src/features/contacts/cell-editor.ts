import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  output,
  viewChild,
} from '@angular/core';
import type { CellValue, ContactRow, CustomFieldType } from '@kettle/contract';
import { readCustomValue } from '@kettle/core/fields';
import { MatSelect } from '@angular/material/select';
import { readTypedDay } from '@kettle/core/time';
import { choiceParts } from '../../kit/choice';
import { CurrentUser } from '../../services/current-user';
import type { Column } from './grid-columns';
import { PeopleWords } from '../fields/index';

interface Choice {
  readonly value: string;
  readonly name: string;
}

export type EditEnd = 'stay' | 'next';

/** Edits one cell: text, or a choice from a list. Enter saves, Tab saves and goes on, Escape leaves it as it was. */
@Component({
  selector: 'kettle-cell-editor',
  imports: [choiceParts],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (choices(); as list) {
      <mat-form-field class="small">
        <mat-select
          [value]="text()"
          [aria-label]="label()"
          (selectionChange)="picked = $event.value"
          (keydown)="onChoiceKey($event)"
          (openedChange)="$event || save(picked ?? text(), end)"
        >
          @for (choice of list; track choice.value) {
            <mat-option [value]="choice.value">{{ choice.name }}</mat-option>
          }
        </mat-select>
      </mat-form-field>
    } @else {
      <mat-form-field class="small">
        <input
          matInput
          #box
          [attr.aria-label]="label()"
          [title]="problem() ?? ''"
          [kettleProblem]="problem()"
          [value]="text()"
          (keydown)="onKey($event, box.value)"
          (blur)="save(box.value, 'stay')"
        />
      </mat-form-field>
    }
  `,
  styles: `
    mat-form-field {
      inline-size: 100%;
    }
  `,
})
export class CellEditor {
  private readonly words = inject(PeopleWords);
  readonly row = input.required<ContactRow>();
  readonly column = input.required<Column>();
  readonly problem = input<string | null>(null);
  readonly saved = output<{ value: CellValue; end: EditEnd }>();
  readonly wrong = output<string>();
  readonly left = output();
  private readonly box = viewChild<string, ElementRef<HTMLInputElement>>('box', { read: ElementRef });
  private readonly choice = viewChild(MatSelect);
  private readonly user = inject(CurrentUser);
  private isOver = false;
  /** What was chosen in the open list, until it closes. */
  protected picked: string | null = null;
  protected end: EditEnd = 'stay';

  protected readonly label = computed(() => `${this.column().name} of ${this.row().name}`);
  protected readonly choices = computed((): readonly Choice[] | null => {
    const { type, choices } = this.column();
    const none = { value: '', name: '—' };
    switch (type) {
      case 'standing':
        return this.words.standings().map(({ standing }) => ({ value: standing.id, name: standing.name }));
      case 'user':
        return [
          { value: '', name: 'nobody' },
          ...this.words.colleagues().map((each) => ({ value: each.id, name: each.name })),
        ];
      case 'choice':
        return [none, ...choices.map((name) => ({ value: name, name }))];
      case 'yes-no':
        return [none, { value: 'yes', name: 'yes' }, { value: 'no', name: 'no' }];
      default:
        return null;
    }
  });
  protected readonly text = computed(() => {
    const [row, column] = [this.row(), this.column()];
    if (column.cell === 'standingId') return row.standingId as string;
    if (column.cell === 'ownerId') return (row.ownerId as string | null) ?? '';
    if (column.cell === 'tags') return row.tags.join(', ');
    if (column.cell?.startsWith('custom:')) {
      const value = row.custom[column.cell.slice('custom:'.length)] ?? null;
      if (column.type === 'money' && typeof value === 'number') return (value / 100).toFixed(2);
      return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value ?? '');
    }
    return String(row[column.cell as 'email'] ?? '');
  });

  constructor() {
    afterNextRender(() => {
      this.choice()?.focus();
      this.choice()?.open();
      const box = this.box()?.nativeElement;
      box?.focus();
      box?.select();
    });
  }

  /** The list has its own keys; what is said here is where to go on. */
  protected onChoiceKey(event: KeyboardEvent): void {
    event.stopPropagation();
    if (event.key === 'Escape') this.picked = null;
    if (event.key !== 'Tab') return;
    event.preventDefault();
    this.end = 'next';
  }

  protected onKey(event: KeyboardEvent, text: string): void {
    event.stopPropagation();
    if (event.key === 'Escape') {
      this.isOver = true;
      this.left.emit();
    }
    if (event.key === 'Enter' || event.key === 'Tab') {
      event.preventDefault();
      this.save(text, event.key === 'Tab' ? 'next' : 'stay');
    }
  }

  protected save(text: string, end: EditEnd): void {
    if (this.isOver) return;
    if (text === this.text()) {
      this.isOver = true;
      if (end === 'next') this.saved.emit({ value: this.valueOf(text), end });
      this.left.emit();
      return;
    }
    const custom = this.column().cell?.startsWith('custom:');
    if (custom) {
      const read = readCustomValue(this.readDay(text), {
        type: this.column().type as CustomFieldType,
        choices: [...this.column().choices],
      });
      if (read.kind === 'wrong') return this.wrong.emit(read.reason);
      this.saved.emit({ value: read.value, end });
    } else this.saved.emit({ value: this.valueOf(text), end });
  }

  /** A day as people type it; what cannot be read goes on as it is, and is refused in words. */
  private readDay(text: string): string {
    const on = { today: this.user.today(), locale: this.user.locale() };
    return this.column().type === 'date' ? (readTypedDay(text, on) ?? text) : text;
  }

  private valueOf(text: string): CellValue {
    const { cell } = this.column();
    if (cell === 'tags')
      return text
        .split(/[,;]/)
        .map((tag) => tag.trim())
        .filter(Boolean);
    if (cell === 'checkInDays') return text.trim() === '' ? null : Number(text);
    const trimmed = text.trim();
    return trimmed === '' ? (cell === 'givenName' || cell === 'familyName' ? '' : null) : trimmed;
  }
}
