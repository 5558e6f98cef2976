import { CdkDragHandle } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';

/**
 * Where a row stands in its list: dragged by its handle, or moved by a press or the arrow keys. Stands in a `cdkDrag` of a `cdkDropList`.
 * @example <kettle-order-handle [name]="row.name" [at]="at" [of]="rows().length" (moved)="move(at, $event)" />
 */
@Component({
  selector: 'kettle-order-handle',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDragHandle, MatButtonModule, MatIcon],
  template: `
    <span class="grip" cdkDragHandle aria-hidden="true"><mat-icon svgIcon="grip" /></span>
    <button
      matIconButton
      type="button"
      [disabled]="at() === 0"
      disabledInteractive
      (click)="move(-1)"
      (keydown.arrowUp)="move(-1); $event.preventDefault()"
      (keydown.arrowDown)="move(1); $event.preventDefault()"
      [attr.aria-label]="texts.moveUp(name())"
    >
      <mat-icon svgIcon="up" />
    </button>
    <button
      matIconButton
      type="button"
      [disabled]="at() === of() - 1"
      disabledInteractive
      (click)="move(1)"
      (keydown.arrowUp)="move(-1); $event.preventDefault()"
      (keydown.arrowDown)="move(1); $event.preventDefault()"
      [attr.aria-label]="texts.moveDown(name())"
    >
      <mat-icon svgIcon="down" />
    </button>
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
    }
    .grip {
      display: grid;
      color: var(--text-soft);
      cursor: grab;
    }
  `,
})
export class OrderHandle {
  protected readonly texts = {
    moveUp: (name: string | number) => $localize`Move ${name}:name: up`,
    moveDown: (name: string | number) => $localize`Move ${name}:name: down`,
  };

  readonly name = input.required<string>();
  readonly at = input.required<number>();
  readonly of = input.required<number>();
  /** By how many places: -1 is up. */
  readonly moved = output<number>();

  protected move(by: number): void {
    const to = this.at() + by;
    if (to >= 0 && to < this.of()) this.moved.emit(by);
  }
}

/** A list with one of its items at another place. @example moved(['a', 'b', 'c'], 0, 2) is ['b', 'c', 'a'] */
export function moved<Item>(items: readonly Item[], from: number, to: number): Item[] {
  const rest = items.filter((_, index) => index !== from);
  return [...rest.slice(0, to), items[from]!, ...rest.slice(to)];
}
