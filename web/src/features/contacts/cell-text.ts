import { inject, Pipe, type PipeTransform } from '@angular/core';
import type { ContactRow, CustomFieldType } from '@kettle/contract';
import { contactPlain } from '@kettle/contract/base/catalogues';
import { sayCustomValue } from '@kettle/core/fields';
import { sayShortDay } from '@kettle/core/time';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';
import type { Column } from './grid-columns';

/** What a cell of the grid says. */
@Pipe({ name: 'cell', pure: false })
export class CellPipe implements PipeTransform {
  private readonly user = inject(CurrentUser);
  private readonly words = inject(PeopleWords);

  transform(row: ContactRow, column: Column): string {
    const today = this.user.today();
    const day = (date: string | null) => (date === null ? '' : sayShortDay(date, today));
    switch (column.key) {
      case 'name':
        return row.name;
      case 'company':
        return row.companyName ?? '';
      case 'next-step':
        return row.tether.nextStepOn ? day(row.tether.nextStepOn) : 'none';
      case 'check-in':
        return day(row.checkInDueOn);
      case 'standing':
        return this.words.standing(row.standingId);
      case 'owner':
        return row.ownerName ?? 'nobody';
      case 'last-touch':
        return row.tether.lastTouchAt ? day(this.user.dateOf(row.tether.lastTouchAt)) : '';
      case 'last-conversation':
        return row.lastConversationAt ? day(this.user.dateOf(row.lastConversationAt)) : '';
      case 'created':
        return day(this.user.dateOf(row.createdAt));
      case 'tags':
        return row.tags.join(', ');
      default:
        return column.key.startsWith('custom:') ? this.custom(row, column) : this.plain(row, column.key);
    }
  }

  private custom(row: ContactRow, column: Column): string {
    const value = row.custom[column.key.slice('custom:'.length)];
    if (column.type === 'date' && typeof value === 'string') return sayShortDay(value, this.user.today());
    if (column.type === 'person') return typeof value === 'string' ? this.words.person(value) : '';
    return sayCustomValue(value, column.type as CustomFieldType, this.user.currency());
  }

  private plain(row: ContactRow, key: string): string {
    const plain = contactPlain.keys.find((each) => contactPlain.of(each).grid === key);
    return row[plain ?? (key as 'email' | 'phone' | 'country' | 'zone' | 'category')] ?? '';
  }
}
