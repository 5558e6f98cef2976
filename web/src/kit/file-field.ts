import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

/**
 * Files from this machine: chosen by a button, or dropped onto it.
 * @example <kettle-file-field label="Attach a file" multiple (chosen)="attach($event)" />
 */
@Component({
  selector: 'kettle-file-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  host: {
    '[class.over]': 'isOver()',
    '(dragover)': '$event.preventDefault(); isOver.set(true)',
    '(dragleave)': 'isOver.set(false)',
    '(drop)': 'drop($event)',
  },
  template: `
    <input
      #box
      type="file"
      hidden
      [accept]="accept()"
      [multiple]="multiple()"
      (change)="take(box.files); box.value = ''"
      [attr.aria-label]="label()"
    />
    <button type="button" [matButton]="look()" [disabled]="disabled()" (click)="choose()">
      {{ label() }}
    </button>
    <ng-content />
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: var(--space-2);
      border-radius: var(--radius);
    }
    :host(.area) {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2) var(--space-3);
      padding: var(--space-3);
      border: 1px dashed var(--dashed);
    }
    :host(.over) {
      outline: 2px dashed var(--link);
      outline-offset: 2px;
    }
  `,
})
export class FileField {
  readonly label = input.required<string>();
  readonly accept = input('');
  readonly multiple = input(false);
  readonly disabled = input(false);
  readonly look = input<'text' | 'outlined' | 'filled'>('outlined');
  readonly chosen = output<readonly File[]>();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly isOver = signal(false);

  /** Opens this machine's own window for files. */
  choose(): void {
    this.box().nativeElement.click();
  }

  protected take(files: FileList | null): void {
    const chosen = [...(files ?? [])];
    if (chosen.length > 0) this.chosen.emit(this.multiple() ? chosen : chosen.slice(0, 1));
  }

  protected drop(event: DragEvent): void {
    event.preventDefault();
    this.isOver.set(false);
    if (!this.disabled()) this.take(event.dataTransfer?.files ?? null);
  }
}
