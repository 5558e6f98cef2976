import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Editor } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';
import { PeopleWords } from '../fields/index';
import { proposeMentions } from './mentions';

type Mention = ReturnType<typeof proposeMentions>[number];

interface Tool {
  readonly name: string;
  readonly mark: string;
  readonly label: string;
  readonly run: (editor: Editor) => boolean;
}

const tools: readonly Tool[] = [
  { name: 'B', mark: 'bold', label: $localize`Bold`, run: (editor) => editor.commands.toggleBold() },
  { name: 'I', mark: 'italic', label: $localize`Italic`, run: (editor) => editor.commands.toggleItalic() },
  {
    name: '•',
    mark: 'bulletList',
    label: $localize`List`,
    run: (editor) => editor.commands.toggleBulletList(),
  },
  {
    name: '1.',
    mark: 'orderedList',
    label: $localize`Numbered list`,
    run: (editor) => editor.commands.toggleOrderedList(),
  },
];

/** Writes simple rich text: bold, italic, lists, links as typed. Ctrl and Enter is done. */
@Component({
  selector: 'kettle-rich-box',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="tools" role="toolbar" aria-label="Shape of the text" i18n-aria-label>
      @for (tool of tools; track tool.name) {
        <button
          matButton
          type="button"
          [attr.aria-label]="tool.label"
          [attr.aria-pressed]="active().has(tool.mark)"
          (mousedown)="$event.preventDefault()"
          (click)="run(tool)"
        >
          {{ tool.name }}
        </button>
      }
    </div>
    <div #place class="place"></div>
    @if (mentions().length > 0) {
      <ul class="mentions" aria-label="Colleagues to name" i18n-aria-label>
        @for (each of mentions(); track each.name; let first = $first) {
          <li>
            <button matButton type="button" (mousedown)="$event.preventDefault()" (click)="name(each)">
              {{ each.name }}
              @if (first) {
                <kbd i18n>Tab</kbd>
              }
            </button>
          </li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      display: block;
      border: 1px solid color-mix(in srgb, var(--text-soft) 55%, transparent);
      border-radius: var(--radius);
      background: var(--sheet);
    }
    .tools {
      display: flex;
      gap: 4px;
      padding: 2px 4px;
      border-block-end: 1px solid var(--hairline);
    }
    [aria-pressed='true'] {
      background: var(--link-wash);
      font-weight: 700;
    }
    .place ::ng-deep .tiptap {
      min-block-size: 76px;
      padding: 6px 8px;
      outline: none;
      white-space: pre-wrap;
    }
    .mentions {
      display: flex;
      flex-wrap: wrap;
      padding: 2px 4px;
      border-block-start: 1px solid var(--hairline);
    }
    .place ::ng-deep ul {
      padding-inline-start: 18px;
      list-style: disc;
    }
    .place ::ng-deep ol {
      padding-inline-start: 18px;
      list-style: decimal;
    }
  `,
})
export class RichBox {
  readonly text = input('');
  readonly takesFocus = input(true);
  /** Answers with what was typed while the box was on its way, and stops collecting it. */
  readonly takeTyped = input<(() => string) | null>(null);
  readonly changed = output<string>();
  readonly done = output();
  protected readonly tools = tools;
  protected readonly active = signal<ReadonlySet<string>>(new Set());
  private readonly place = viewChild.required<ElementRef<HTMLElement>>('place');
  private editor: Editor | null = null;
  private readonly people = inject(PeopleWords);
  private readonly before = signal('');
  /** Colleagues whom an unfinished @name before the cursor may mean. */
  protected readonly mentions = computed(() => proposeMentions(this.before(), this.people.colleagues()));

  constructor() {
    this.people.wake();
    afterNextRender(() => this.start());
    inject(DestroyRef).onDestroy(() => this.editor?.destroy());
  }

  protected run(tool: Tool): void {
    if (!this.editor) return;
    // At once: the editor's own `focus` waits for the next frame, and what is typed until then would be keys of the page.
    this.editor.view.focus();
    tool.run(this.editor);
  }

  /** Puts the whole name where its beginning was typed. */
  protected name({ name, typed }: Mention): void {
    const { editor } = this;
    if (!editor) return;
    const { from } = editor.state.selection;
    editor.view.focus();
    editor.commands.insertContentAt({ from: from - typed, to: from }, { type: 'text', text: `${name} ` });
  }

  private start(): void {
    const look = (editor: Editor) => {
      this.active.set(new Set(tools.filter((tool) => editor.isActive(tool.mark)).map((tool) => tool.mark)));
      const { $from, empty } = editor.state.selection;
      this.before.set(empty ? $from.parent.textBetween(0, $from.parentOffset) : '');
    };
    this.editor = new Editor({
      element: this.place().nativeElement,
      extensions: [
        StarterKit.configure({ codeBlock: false, horizontalRule: false, heading: { levels: [3] } }),
      ],
      content: this.text(),
      injectCSS: false,
      editorProps: {
        attributes: { 'aria-label': $localize`Note`, role: 'textbox', 'aria-multiline': 'true' },
        handleKeyDown: (_, event) => {
          const [first] = this.mentions();
          if (event.key === 'Tab' && !event.shiftKey && first !== undefined) {
            this.name(first);
            return true;
          }
          if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return false;
          this.done.emit();
          return true;
        },
      },
      onUpdate: ({ editor }) => this.changed.emit(editor.isEmpty ? '' : editor.getHTML()),
      onTransaction: ({ editor }) => look(editor),
    });
    if (!this.takesFocus()) return;
    this.editor.commands.setTextSelection(this.editor.state.doc.content.size);
    this.editor.view.focus();
    const typed = this.takeTyped()?.() ?? '';
    if (typed !== '') this.editor.commands.insertContent({ type: 'text', text: typed });
  }
}
