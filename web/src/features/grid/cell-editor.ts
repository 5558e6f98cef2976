import { writeNumber } from '@kettle/core/locale';
import { writeMoney } from '@kettle/core/money';
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
import type { CellValue, CustomFieldType, GridFieldType } from '@kettle/contract';
import { readCustomValue } from '@kettle/core/fields';
import { MatSelect } from '@angular/material/select';
import { readTypedDay } from '@kettle/core/time';
import { choiceParts } from '../../kit/choice';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';
import type { Column, Option } from './columns';
import { type GridRow, GridSpec } from './grid-spec';

/** What is read as it is typed: `fri`, `1,250`. */
const typed = new Set<GridFieldType>(['date', 'number', 'money']);

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
export class CellEditor<Row extends GridRow> {
  private readonly words = inject(PeopleWords);
  private readonly spec = inject<GridSpec<Row>>(GridSpec);
  readonly row = input.required<Row>();
  readonly column = input.required<Column<Row>>();
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

  protected readonly label = computed(
    () => $localize`${this.column().name}:name: of ${this.spec.nameOf(this.row())}:row:`,
  );
  protected readonly choices = computed((): readonly Option[] | null => {
    const { type, options } = this.column();
    const none = { value: '', name: '—' };
    switch (type) {
      case 'standing':
        return this.words.standings().map(({ standing }) => ({ value: standing.id, name: standing.name }));
      case 'user':
        return [
          { value: '', name: 'nobody' },
          ...this.words.colleagues().map((each) => ({ value: each.id, name: each.name })),
        ];
      case 'yes-no':
        return [none, { value: 'yes', name: 'yes' }, { value: 'no', name: 'no' }];
      default:
        return options ? [none, ...options] : null;
    }
  });
  protected readonly text = computed(() => {
    const value = this.spec.valueOf(this.row(), this.column().cell!);
    if (value === null) return '';
    if (typeof value === 'boolean') return value ? 'yes' : 'no';
    if (typeof value === 'number')
      return this.column().type === 'money' ? writeMoney(value, this.currency()) : writeNumber(value);
    return typeof value === 'string' ? value : value.join(', ');
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
    const { type, cell, options = [] } = this.column();
    if (!cell!.startsWith('custom:') && !typed.has(type)) {
      this.saved.emit({ value: this.valueOf(text), end });
      return;
    }
    const choices = options.map(({ value }) => value);
    const read = readCustomValue(
      this.readDay(text),
      { type: type as CustomFieldType, choices },
      this.currency(),
    );
    if (read.kind === 'wrong') return this.wrong.emit(read.reason);
    this.saved.emit({ value: read.value, end });
  }

  /** What an amount of the row is in. */
  private currency(): string {
    return this.column().field?.currencyOf?.(this.row()) ?? this.user.currency();
  }

  /** A day as people type it; what cannot be read goes on as it is, and is refused in words. */
  private readDay(text: string): string {
    const on = { today: this.user.today(), locale: this.user.locale() };
    return this.column().type === 'date' ? (readTypedDay(text, on) ?? text) : text;
  }

  private valueOf(text: string): CellValue {
    if (this.column().type === 'tags')
      return text
        .split(/[,;]/)
        .map((tag) => tag.trim())
        .filter(Boolean);
    return text.trim() === '' ? null : text.trim();
  }
}
