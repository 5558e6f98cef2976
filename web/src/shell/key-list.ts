import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import { MatTabsModule } from '@angular/material/tabs';
import { glossary } from '../kit/glossary';
import { type KeyBinding, sayKeys } from '../services/keys';

/** Behind `?`: the keys that work just now, and what our own words mean. */
@Component({
  selector: 'kettle-key-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, MatTabsModule],
  template: `
    <h2 i18n mat-dialog-title>Keys and words</h2>
    <mat-dialog-content>
      <mat-tab-group>
        <mat-tab label="Keys that work here" i18n-label>
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
          <p i18n class="soft">Keys never act while you type.</p>
        </mat-tab>
        <mat-tab label="Our words" i18n-label>
          <dl class="meanings">
            @for (entry of words; track entry[0]) {
              <dt>{{ entry[0] }}</dt>
              <dd>{{ entry[1] }}</dd>
            }
          </dl>
        </mat-tab>
      </mat-tab-group>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton="outlined" mat-dialog-close>Close</button>
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
    dl {
      padding-block-start: var(--space-3);
    }
    dt {
      display: flex;
      gap: 4px;
    }
    dl.meanings {
      grid-template-columns: 150px 1fr;
    }
    .meanings dt {
      font-weight: 600;
    }
  `,
})
export class KeyList {
  protected readonly words = Object.entries(glossary);
  protected readonly bindings = inject<KeyBinding[]>(MAT_DIALOG_DATA);

  protected readonly namesOf = (keys: string) => sayKeys(keys);
}
