import { HttpClient, HttpEventType } from '@angular/common/http';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type { CallOf, StoredFile } from '@kettle/contract';
import { endpoints } from '@kettle/contract/endpoints';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { FileField } from '../../kit/file-field';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import type { SubjectRecord } from '../../services/selected-record';

const mostBytes = 25 * 1024 * 1024;

interface Upload {
  readonly name: string;
  /** 0 to 1. */
  readonly part: number;
}

/** Files of a contact, company, deal, agreement or template: chosen or dropped, sent with progress, looked at or downloaded. */
@Component({
  selector: 'kettle-file-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FileField, MatButtonModule, MatIcon, MatProgressBarModule, MomentPipe, Failed],
  template: `
    @if (mayChange()) {
      <kettle-file-field
        class="area"
        label="Choose files"
        i18n-label
        [multiple]="true"
        (chosen)="take($event)"
      >
        <span i18n class="soft">or drop them here, up to 25 MB each</span>
      </kettle-file-field>
    }
    @for (upload of uploads(); track upload.name) {
      <p role="status">
        {{ upload.name }}
        <mat-progress-bar [value]="100 * upload.part" [attr.aria-label]="texts.sending(upload.name)" />
      </p>
    }
    @for (problem of problems(); track $index) {
      <p class="wrong" role="alert">{{ problem }}</p>
    }
    <ul>
      @for (file of files(); track file.id) {
        <li>
          <mat-icon svgIcon="file" aria-hidden="true" />
          <span class="name">
            @if (file.canPreview) {
              <button matButton type="button" (click)="look(file)" [attr.aria-expanded]="shown() === file.id">
                {{ file.name }}
              </button>
            } @else {
              {{ file.name }}
            }
            <span class="soft">{{ sizeOf(file) }} · {{ file.at | moment }} · {{ file.userName }}</span>
          </span>
          <a i18n matButton [href]="linkOf(file)" [download]="file.name">download</a>
          @if (mayChange()) {
            <button
              matIconButton
              type="button"
              (click)="remove(file)"
              [attr.aria-label]="texts.takeAway(file.name)"
            >
              <mat-icon svgIcon="close" />
            </button>
          }
          @if (shown() === file.id) {
            @if (file.mediaType === 'application/pdf') {
              <a
                i18n
                matButton
                [href]="linkOf(file) + '?preview=yes'"
                target="_blank"
                rel="noopener"
                class="preview"
              >
                look at it in a tab of its own
              </a>
            } @else {
              <img class="preview" [src]="linkOf(file) + '?preview=yes'" [alt]="file.name" />
            }
          }
        </li>
      } @empty {
        <li i18n class="soft">No files yet.</li>
      }
    </ul>
    @if (list.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="list.again()" />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
    }
    .drop {
      display: flex;
      flex-wrap: wrap;
      gap: 4px var(--space-2);
      align-items: center;
      padding: 10px;
      border: 1px dashed var(--dashed);
      border-radius: var(--radius);
      cursor: pointer;
    }
    .drop.over {
      background: var(--link-wash);
    }
    .drop input {
      inline-size: 100%;
      font: inherit;
      font-size: var(--text-small);
    }
    mat-progress-bar {
      inline-size: 160px;
    }
    li {
      display: grid;
      grid-template-columns: 16px minmax(0, 1fr) auto auto;
      gap: var(--space-2);
      align-items: baseline;
      padding-block: 6px;
      border-block-end: 1px solid var(--hairline);
    }
    li.soft {
      display: block;
    }
    .name {
      display: grid;
      justify-items: start;
      overflow-wrap: anywhere;
    }
    .name .bare {
      padding: 0;
      text-align: start;
    }
    .name .soft {
      font-size: var(--text-small);
    }
    .preview {
      grid-column: 2 / -1;
      max-inline-size: 100%;
    }
  `,
})
export class FileList {
  protected readonly texts = {
    sending: (name: string | number) => $localize`Sending ${name}:name:`,
    takeAway: (name: string | number) => $localize`Take away ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly http = inject(HttpClient);
  private readonly notices = inject(Notices);
  readonly record = input.required<{
    readonly kind: SubjectRecord['kind'] | 'agreement' | 'template';
    readonly id: string;
  }>();
  readonly mayChange = input(true);
  protected readonly uploads = signal<readonly Upload[]>([]);
  protected readonly problems = signal<readonly string[]>([]);
  protected readonly shown = signal<string | null>(null);
  protected readonly list = reading((query: NonNullable<CallOf<'listFiles'>['query']>) =>
    this.api.call('listFiles', { query }),
  );
  protected readonly files = computed(() => this.list.value()?.files ?? []);
  private readonly subject = computed(() => {
    const { kind, id } = this.record();
    return {
      contact: { contactId: id },
      deal: { dealId: id },
      company: { companyId: id },
      agreement: { agreementId: id },
      template: { templateId: id },
    }[kind] as NonNullable<CallOf<'listFiles'>['query']>;
  });

  constructor() {
    effect(() => {
      const subject = this.subject();
      untracked(() => {
        this.problems.set([]);
        this.list.read(subject);
      });
    });
    inject(ChangeStream)
      .of('file')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
  }

  protected take(files: readonly File[]): void {
    this.problems.set([]);
    for (const file of files) this.send(file);
  }

  protected linkOf(file: StoredFile): string {
    return endpoints.getFile.split(' ')[1]!.replace(':id', file.id);
  }

  protected look(file: StoredFile): void {
    this.shown.update((id) => (id === file.id ? null : file.id));
  }

  protected sizeOf({ size }: StoredFile): string {
    return size < 1024 * 1024
      ? $localize`${Math.max(1, Math.round(size / 1024))} kB`
      : $localize`${(size / 1024 / 1024).toFixed(1)} MB`;
  }

  protected remove(file: StoredFile): void {
    this.api.call('removeFile', { params: { id: file.id } }).subscribe({
      next: () => {
        this.list.again();
        this.notices.say($localize`${file.name} is removed.`, () => this.restore(file));
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  private restore(file: StoredFile): void {
    this.api.call('restoreFile', { params: { id: file.id } }).subscribe({ next: () => this.list.again() });
  }

  /** Sends the bytes as they are; how far it is comes from the browser. */
  private send(file: File): void {
    if (file.size > mostBytes)
      return this.refuse(file.name, new ApiProblem('too-large', $localize`It is larger than 25 MB.`));
    const [method, path] = endpoints.uploadFile.split(' ') as [string, string];
    const params = { ...this.subject(), name: file.name } as Record<string, string>;
    this.http
      .request(method, path, {
        body: file,
        params,
        headers: { 'Content-Type': 'application/octet-stream' },
        reportProgress: true,
        observe: 'events',
      })
      .subscribe({
        next: (event) => {
          if (event.type === HttpEventType.UploadProgress) this.mark(file.name, event.loaded / file.size);
          if (event.type === HttpEventType.Response) {
            this.mark(file.name, null);
            this.list.again();
          }
        },
        error: (error: unknown) => this.refuse(file.name, problemOf(error)),
      });
  }

  private refuse(name: string, problem: ApiProblem): void {
    this.mark(name, null);
    const why = problem.fields[0]?.message;
    this.problems.update((known) => [...known, `${name}: ${why ? $localize`it ${why}.` : problem.message}`]);
  }

  private mark(name: string, part: number | null): void {
    this.uploads.update((all) => {
      const rest = all.filter((each) => each.name !== name);
      return part === null ? rest : [...rest, { name, part }];
    });
  }
}
