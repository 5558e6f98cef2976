import { PhoneWords } from '../../kit/phone.pipe';
import { numberFormat, sayPercent } from '@kettle/core/locale';
import { inject, Injector, Pipe, type PipeTransform } from '@angular/core';
import type { CustomFieldType, GridValue } from '@kettle/contract';
import { sayMoney } from '@kettle/core/money';
import { sayShortDay } from '@kettle/core/time';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';
import type { Column } from './columns';
import type { GridRow } from './grid-spec';

/** What a cell of the grid says; an empty one is `''`. */
@Pipe({ name: 'cell', pure: false })
export class CellPipe implements PipeTransform {
  private readonly user = inject(CurrentUser);
  private readonly words = inject(PeopleWords);
  private readonly injector = inject(Injector);

  transform<Row extends GridRow>(row: Row, column: Column<Row>): string {
    if (column.field === undefined) return this.custom(row, column);
    const value = column.field.of(row);
    if (column.type === 'money' && typeof value === 'number')
      return sayMoney(value, column.field.currencyOf?.(row) ?? this.user.currency());
    return this.say(value, column);
  }

  /** A sum of a column, in the organisation's own currency. */
  sum(sum: number, column: Pick<Column, 'type'>): string {
    return column.type === 'money' ? sayMoney(sum, this.user.currency()) : numberFormat().format(sum);
  }

  private say<Row>(value: GridValue, column: Column<Row>): string {
    if (value === null) return column.type === 'user' ? 'nobody' : '';
    if (typeof value === 'boolean') return value ? 'yes' : 'no';
    if (typeof value === 'number')
      return column.type === 'percent' ? sayPercent(value) : numberFormat().format(value);
    if (typeof value !== 'string') return value.join(', ');
    // Only a list that shows numbers fetches their rules.
    if (column.key === 'phone') return this.injector.get(PhoneWords).say(value);
    switch (column.type) {
      case 'date':
        return sayShortDay(value, this.user.today());
      case 'instant':
        return sayShortDay(this.user.dateOf(value), this.user.today());
      case 'standing':
        return this.words.standing(value);
      default:
        return column.options?.find((option) => option.value === value)?.name ?? value;
    }
  }

  private custom<Row extends GridRow>(row: Row, column: Column<Row>): string {
    const value = row.custom?.[column.key.slice('custom:'.length)];
    if (column.type === 'date' && typeof value === 'string') return sayShortDay(value, this.user.today());
    if (column.type === 'person') return typeof value === 'string' ? this.words.person(value) : '';
    return this.words.custom(value, column.type as CustomFieldType);
  }
}
