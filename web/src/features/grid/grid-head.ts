import { CdkDrag, type CdkDragDrop, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { Pick } from '../../kit/pick';
import { type Column, isNumber } from './columns';
import { GridView } from './grid-view';

const widthStep = 30;

/** The heads of the grid's columns: sorted by a click, moved by drag, widened at their edge; all of it by their menu too. */
@Component({
  selector: 'kettle-grid-head',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Pick, CdkDrag, CdkDropList, MatIcon, MatMenuModule],
  templateUrl: './grid-head.html',
  styleUrl: './grid-head.scss',
})
export class GridHead {
  protected readonly texts = {
    column: (name: string | number) => $localize`Column ${name}:name:`,
  };

  protected readonly view = inject(GridView);
  protected readonly widthStep = widthStep;
  protected readonly isNumber = isNumber;

  protected dropColumn(event: CdkDragDrop<unknown>): void {
    this.view.moveColumn(event.previousIndex, event.currentIndex);
  }

  /** Follows the pointer from the edge of a column's head until it is let go. */
  protected resize(event: PointerEvent, column: Column): void {
    event.preventDefault();
    event.stopPropagation();
    const start = event.clientX;
    const handle = event.target as HTMLElement;
    handle.setPointerCapture(event.pointerId);
    const end = (last: PointerEvent) => {
      handle.removeEventListener('pointerup', end);
      this.view.widen(column, last.clientX - start);
    };
    handle.addEventListener('pointerup', end);
  }
}
