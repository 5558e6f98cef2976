import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { Editor } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';

interface Tool {
  readonly name: string;
  readonly mark: string;
  readonly label: string;
  readonly run: (editor: Editor) => void;
}

const tools: readonly Tool[] = [
  { name: 'B', mark: 'bold', label: 'Bold', run: (editor) => editor.chain().focus().toggleBold().run() },
  {
    name: 'I',
    mark: 'italic',
    label: 'Italic',
    run: (editor) => editor.chain().focus().toggleItalic().run(),
  },
  {
    name: '•',
    mark: 'bulletList',
    label: 'List',
    run: (editor) => editor.chain().focus().toggleBulletList().run(),
  },
  {
    name: '1.',
    mark: 'orderedList',
    label: 'Numbered list',
    run: (editor) => editor.chain().focus().toggleOrderedList().run(),
  },
];

/** Writes simple rich text: bold, italic, lists, links as typed. Ctrl and Enter is done. */
@Component({
  selector: 'kettle-rich-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="tools" role="toolbar" aria-label="Shape of the text">
      @for (tool of tools; track tool.name) {
        <button
          type="button"
          class="bare"
          [attr.aria-label]="tool.label"
          [attr.aria-pressed]="active().has(tool.mark)"
          (click)="run(tool)"
        >
          {{ tool.name }}
        </button>
      }
    </div>
    <div #place class="place"></div>
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
  readonly changed = output<string>();
  readonly done = output();
  protected readonly tools = tools;
  protected readonly active = signal<ReadonlySet<string>>(new Set());
  private readonly place = viewChild.required<ElementRef<HTMLElement>>('place');
  private editor: Editor | null = null;

  constructor() {
    afterNextRender(() => this.start());
    inject(DestroyRef).onDestroy(() => this.editor?.destroy());
  }

  protected run(tool: Tool): void {
    if (this.editor) tool.run(this.editor);
  }

  private start(): void {
    const look = (editor: Editor) =>
      this.active.set(new Set(tools.filter((tool) => editor.isActive(tool.mark)).map((tool) => tool.mark)));
    this.editor = new Editor({
      element: this.place().nativeElement,
      extensions: [
        StarterKit.configure({ codeBlock: false, horizontalRule: false, heading: { levels: [3] } }),
      ],
      content: this.text(),
      autofocus: 'end',
      injectCSS: false,
      editorProps: {
        attributes: { 'aria-label': 'Note', role: 'textbox', 'aria-multiline': 'true' },
        handleKeyDown: (_, event) => {
          if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return false;
          this.done.emit();
          return true;
        },
      },
      onUpdate: ({ editor }) => this.changed.emit(editor.isEmpty ? '' : editor.getHTML()),
      onTransaction: ({ editor }) => look(editor),
    });
  }
}
