import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import { type KeyBinding, sayKeys } from '../services/keys';

@Component({
  selector: 'kettle-key-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Keys that work here</h2>
    <mat-dialog-content>
      <dl>
        @for (binding of bindings; track binding) {
          <dt>
            @for (key of namesOf(binding.keys); track $index) {
              <kbd>{{ key }}</kbd>
            }
          </dt>
          <dd>{{ binding.words }}</dd>
        }
      </dl>
      <p class="soft">Keys never act while you type.</p>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton="outlined" mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: auto 1fr;
      gap: 6px var(--space-4);
      padding-block-end: var(--space-4);
      color: var(--text);
    }
    dt {
      display: flex;
      gap: 4px;
    }
  `,
})
export class KeyList {
  protected readonly bindings = inject<KeyBinding[]>(MAT_DIALOG_DATA);

  protected readonly namesOf = (keys: string) => sayKeys(keys);
}
