import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { SearchHit } from '@kettle/contract';
import { BareInput } from '../kit/bare-input';
import { Keys } from '../services/keys';
import { SelectedRecord } from '../services/selected-record';
import { Finding, recordOf } from '../features/search/index';

/** Finds anything from anywhere: people, firms, deals by name, address or number; what was written a moment later. */
@Component({
  selector: 'kettle-search-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BareInput, MatIcon],
  providers: [Finding],
  template: `
    <mat-icon svgIcon="search" aria-hidden="true" />
    <input
      kit-bare
      #box
      autocomplete="off"
      type="search"
      placeholder="Find anything"
      i18n-placeholder
      aria-label="Find anything"
      i18n-aria-label
      role="combobox"
      [attr.aria-controls]="isListed() ? 'found-hits' : null"
      [attr.aria-expanded]="isListed()"
      [attr.aria-activedescendant]="
        isListed() && finding.found().length > 0 ? 'found-' + finding.chosen() : null
      "
      [value]="finding.words()"
      (input)="finding.words.set(box.value); isOpen.set(true)"
      (keydown)="onKey($event)"
      (blur)="isOpen.set(false)"
    />
    <kbd>/</kbd>
    @if (isListed()) {
      <ul id="found-hits" role="listbox" aria-label="Found" i18n-aria-label>
        @for (hit of finding.found(); track hit.kind + hit.id) {
          <li
            role="option"
            [id]="'found-' + $index"
            [attr.aria-selected]="$index === finding.chosen()"
            (mousedown)="take(hit)"
          >
            <mat-icon
              [svgIcon]="finding.icons[hit.kind]"
              [attr.aria-label]="hit.kind"
              aria-hidden="false"
              role="img"
            />
            <b>{{ hit.title }}</b>
            <span class="soft">{{ hit.words }}</span>
          </li>
        } @empty {
          <li class="soft" role="option" aria-disabled="true" aria-selected="false">
            {{ finding.isReading() ? texts.looking : texts.nothingFound }}
          </li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: flex;
      align-items: center;
      gap: var(--space-2);
      inline-size: 250px;
      padding: 3px 4px;
      border-block-end: 1px solid var(--text-soft);
      color: var(--text-soft);
    }
    input {
      flex: 1;
      min-inline-size: 0;
      border: 0;
      background: none;
      color: var(--text);
      font: inherit;
      outline: none;
    }
    input::placeholder {
      color: var(--text-soft);
    }
    :host:has(input:focus) {
      border-block-end-color: var(--link);
      box-shadow: 0 1px 0 var(--link);
    }
    ul {
      position: absolute;
      inset-block-start: calc(100% + 4px);
      inset-inline-end: 0;
      inline-size: max(100%, 380px);
      max-inline-size: 92vw;
      z-index: 10;
      max-block-size: 70vh;
      overflow: auto;
      border: 1px solid var(--hairline);
      border-radius: var(--radius);
      background: var(--sheet);
      color: var(--text);
    }
    li {
      display: grid;
      grid-template-columns: 16px 1fr;
      gap: 0 8px;
      padding: 6px 10px;
      cursor: pointer;
    }
    li .soft {
      grid-column: 2;
      font-size: var(--text-small);
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    li[aria-disabled] {
      grid-template-columns: 1fr;
    }
    li[aria-selected='true'],
    li:hover {
      background: var(--link-wash);
    }
  `,
})
export class SearchBox {
  protected readonly texts = {
    looking: $localize`Looking …`,
    nothingFound: $localize`Nothing found`,
  };

  private readonly selected = inject(SelectedRecord);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly finding = inject(Finding);
  protected readonly isOpen = signal(false);
  protected readonly isListed = computed(() => this.isOpen() && this.finding.hasWords());

  constructor() {
    inject(Keys).bind({
      keys: '/',
      words: $localize`Find anything`,
      act: () => this.box().nativeElement.select(),
    });
  }

  protected onKey(event: KeyboardEvent): void {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      this.finding.step(event.key === 'ArrowDown' ? 1 : -1);
    }
    const hit = this.finding.found()[this.finding.chosen()];
    if (event.key === 'Enter' && hit) this.take(hit);
    if (event.key === 'Escape') this.box().nativeElement.blur();
  }

  protected take(hit: SearchHit): void {
    const record = recordOf(hit);
    if (record !== null) this.selected.open(record);
    this.finding.clear();
    this.box().nativeElement.blur();
  }
}
