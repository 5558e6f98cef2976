import { inject, Pipe, type PipeTransform } from '@angular/core';
import type { CustomFieldType, GridValue } from '@kettle/contract';
import { sayCustomValue } from '@kettle/core/fields';
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

  transform<Row extends GridRow>(row: Row, column: Column<Row>): string {
    if (column.field === undefined) return this.custom(row, column);
    const value = column.field.of(row);
    if (column.type === 'money' && typeof value === 'number')
      return sayMoney(value, column.field.currencyOf?.(row) ?? this.user.currency());
    return this.say(value, column);
  }

  /** A sum of a column, in the organisation's own currency. */
  sum(sum: number, column: Pick<Column, 'type'>): string {
    return column.type === 'money'
      ? sayMoney(sum, this.user.currency())
      : sum.toLocaleString(this.user.locale());
  }

  private say<Row>(value: GridValue, column: Column<Row>): string {
    if (value === null) return column.type === 'user' ? 'nobody' : '';
    if (typeof value === 'boolean') return value ? 'yes' : 'no';
    if (typeof value === 'number')
      return column.type === 'percent'
        ? `${Math.round(value * 100)} %`
        : value.toLocaleString(this.user.locale());
    if (typeof value !== 'string') return value.join(', ');
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
    return sayCustomValue(value, column.type as CustomFieldType, this.user.currency());
  }
}
