import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  inject,
  viewChild,
} from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { SearchHit } from '@kettle/contract';
import { fieldParts } from '../../kit/field';
import { Empty } from '../../kit/states';
import { SelectedRecord } from '../../services/selected-record';
import { Finding, recordOf } from './finding';

/** Search as a page of its own, for a screen without room for it in the bar. */
@Component({
  selector: 'kettle-search-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatIcon, RouterLink, Empty],
  providers: [Finding],
  template: `
    <div class="page">
      <h1 i18n>Search</h1>
      <mat-form-field>
        <input
          matInput
          #box
          type="search"
          autocomplete="off"
          enterkeyhint="search"
          placeholder="Name, company, deal, number or what was written"
          i18n-placeholder
          aria-label="Find anything"
          i18n-aria-label
          [value]="finding.words()"
          (input)="finding.words.set(box.value)"
        />
      </mat-form-field>
      <ul aria-label="Found" i18n-aria-label>
        @for (hit of finding.found(); track hit.kind + hit.id) {
          <li>
            <a [routerLink]="pathOf(hit)">
              <mat-icon [svgIcon]="finding.icons[hit.kind]" aria-hidden="true" />
              <b>{{ hit.title }}</b>
              <span class="soft">{{ hit.words }}</span>
            </a>
          </li>
        }
      </ul>
      @if (finding.hasWords() && finding.found().length === 0) {
        @if (finding.isReading()) {
          <p i18n class="soft" role="status">Looking …</p>
        } @else {
          <kettle-empty i18n title="Nothing found" i18n-title>
            Fewer letters find more: the first ones of a name, a company, a town or a number are enough.
          </kettle-empty>
        }
      }
    </div>
  `,
  styles: `
    .page {
      display: grid;
      gap: var(--space-3);
      max-inline-size: 640px;
    }
    a {
      display: grid;
      grid-template-columns: 20px minmax(0, 1fr);
      align-content: center;
      gap: 0 10px;
      min-block-size: 52px;
      padding-block: 4px;
      border-block-end: 1px solid var(--hairline);
      color: inherit;
    }
    a .soft {
      grid-column: 2;
      overflow: hidden;
      font-size: var(--text-small);
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  `,
})
export class SearchPage {
  private readonly selected = inject(SelectedRecord);
  protected readonly finding = inject(Finding);
  private readonly box = viewChild.required<string, ElementRef<HTMLInputElement>>('box', {
    read: ElementRef,
  });

  constructor() {
    afterNextRender(() => this.box().nativeElement.focus());
  }

  protected pathOf(hit: SearchHit): string | null {
    const record = recordOf(hit);
    return record === null ? null : this.selected.pathOf(record);
  }
}
