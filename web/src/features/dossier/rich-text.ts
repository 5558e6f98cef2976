import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { DomSanitizer } from '@angular/platform-browser';
import DOMPurify from 'dompurify';

/** Shows rich text of the journal. The server cleaned it when it was written; it is cleaned again before it is shown. */
@Component({
  selector: 'kettle-rich-text',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div [innerHTML]="html()"></div>
  `,
  styles: `
    div {
      overflow-wrap: anywhere;
    }
    :host ::ng-deep p,
    :host ::ng-deep ul,
    :host ::ng-deep ol {
      margin-block: 0 4px;
    }
    :host ::ng-deep ul {
      padding-inline-start: 18px;
      list-style: disc;
    }
    :host ::ng-deep ol {
      padding-inline-start: 18px;
      list-style: decimal;
    }
  `,
})
export class RichText {
  private readonly sanitizer = inject(DomSanitizer);
  readonly text = input.required<string>();
  protected readonly html = computed(() =>
    this.sanitizer.bypassSecurityTrustHtml(
      DOMPurify.sanitize(this.text(), {
        ALLOWED_TAGS: [
          'p',
          'br',
          'strong',
          'em',
          'u',
          's',
          'ul',
          'ol',
          'li',
          'blockquote',
          'a',
          'h3',
          'code',
        ],
        ALLOWED_ATTR: ['href'],
      }),
    ),
  );
}
