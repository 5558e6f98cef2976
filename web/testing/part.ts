import { provideHttpClient } from '@angular/common/http';
import {
  HttpTestingController,
  provideHttpClientTesting,
  type TestRequest,
} from '@angular/common/http/testing';
import { type Provider, provideZonelessChangeDetection, type Type } from '@angular/core';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { MATERIAL_ANIMATIONS } from '@angular/material/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { provideRouter } from '@angular/router';
import type { JournalEntry } from '@kettle/contract';
import { CurrentUser } from '../src/services/current-user';

const iconNames =
  'call email text meeting visit other note system close search person pin open plus up down right clock keys more bell company deal file undo round cadence calendar renewal task settings fold unfold leave grip'.split(
    ' ',
  );

/** A part of the screen on its own, with a server that answers what the test tells it. */
export interface Part<Shown> {
  readonly fixture: ComponentFixture<Shown>;
  readonly shown: Shown;
  readonly root: HTMLElement;
  readonly server: HttpTestingController;
  /** What the dialog was closed with, if it is one. */
  readonly closedWith: unknown[];
  settle(): Promise<void>;
  /** Lets so many milliseconds pass, for what waits until typing has settled. */
  pass(millis: number): Promise<void>;
  /** The one request to this path that waits for its answer. */
  asked(path: string): TestRequest;
  /** The same, for one that is asked only when a file was read or a worker answered. */
  awaited(path: string): Promise<TestRequest>;
  /** Answers it and shows what follows. */
  answer(path: string, body: object): Promise<TestRequest>;
  /** Answers every one that waits for an answer of this path alike. */
  answerAll(path: string, body: object): Promise<void>;
  refuse(
    path: string,
    body: { status: number; code: string; detail: string; fields?: object[]; current?: unknown },
  ): Promise<TestRequest>;
  button(name: string | RegExp): HTMLButtonElement;
  field<Control extends HTMLElement = HTMLInputElement>(label: string | RegExp): Control;
  type(control: HTMLInputElement | HTMLTextAreaElement, text: string): Promise<void>;
  /** The names a list offers; it is closed again. */
  choicesOf(label: string | RegExp): Promise<string[]>;
  /** Chooses in the list of that name. */
  choose(label: string | RegExp | HTMLElement, choice: string | RegExp): Promise<void>;
  click(element: HTMLElement): Promise<void>;
  /** Presses Undo in the line at the foot of the screen. */
  pressUndo(): Promise<void>;
  /** Presses it, and the request that undoes what was asked for there, waiting for its answer. */
  undoOf(asked: TestRequest): Promise<TestRequest>;
}

const triggerOf = (select: HTMLElement) =>
  select.querySelector<HTMLElement>('.mat-mdc-select-trigger') ?? select;
const optionsOf = () => [...document.querySelectorAll<HTMLElement>('.cdk-overlay-container mat-option')];

export async function showPart<Shown>(
  component: Type<Shown>,
  setting: {
    inputs?: Record<string, unknown>;
    data?: unknown;
    role?: 'rep' | 'manager' | 'admin';
    /** Where the reader is. */
    country?: string;
    /** Whether changes of what goes out by itself hold at once. */
    releases?: boolean;
    before?: (server: HttpTestingController) => void;
    /** What a page around it provides. */
    providers?: readonly Provider[];
  } = {},
): Promise<Part<Shown>> {
  localStorage.clear();
  const closedWith: unknown[] = [];
  TestBed.configureTestingModule({
    providers: [
      ...(setting.providers ?? []),
      provideZonelessChangeDetection(),
      provideHttpClient(),
      provideHttpClientTesting(),
      provideRouter([{ path: '**', children: [] }]),
      { provide: MATERIAL_ANIMATIONS, useValue: { animationsDisabled: true } },
      { provide: MAT_DIALOG_DATA, useValue: setting.data ?? null },
      {
        provide: MatDialogRef,
        useValue: {
          close: (value: unknown) => closedWith.push(value),
          afterClosed: () => ({ subscribe: () => undefined }),
        },
      },
    ],
  });
  const registry = TestBed.inject(MatIconRegistry);
  for (const name of iconNames)
    registry.addSvgIconLiteral(name, TestBed.inject(DomSanitizer).bypassSecurityTrustHtml('<svg></svg>'));
  TestBed.inject(CurrentUser).enter({
    person: {
      id: 'me',
      name: 'Imogen Thorne',
      role: setting.role ?? 'rep',
      zone: 'Europe/London',
      country: setting.country ?? 'GB',
      hours: { weekdays: [1, 2, 3, 4, 5], start: 540, end: 1020 },
    },
    now: '2026-11-24T09:10:00.000Z',
    currency: 'GBP',
    rights: {
      changes: (setting.role ?? 'rep') === 'rep' ? [] : null,
      exports: true,
      releases: setting.releases ?? true,
    },
  } as never);
  const server = TestBed.inject(HttpTestingController);
  setting.before?.(server);
  const fixture = TestBed.createComponent(component);
  for (const [name, value] of Object.entries(setting.inputs ?? {}))
    fixture.componentRef.setInput(name, value);
  const root = fixture.nativeElement as HTMLElement;
  const settle = async () => {
    fixture.detectChanges();
    await fixture.whenStable();
    // What comes when it is first needed has come by then: a dynamic import takes some turns.
    for (let turn = 0; turn < 10; turn += 1) await Promise.resolve();
    fixture.detectChanges();
  };
  const textOf = (element: Element) =>
    (element.getAttribute('aria-label') ?? element.textContent ?? '').replace(/\s+/g, ' ').trim();
  const fits = (text: string, name: string | RegExp) =>
    typeof name === 'string' ? text === name : name.test(text);
  const part: Part<Shown> = {
    fixture,
    shown: fixture.componentInstance,
    root,
    server,
    closedWith,
    settle,
    pass: async (millis) => {
      await new Promise((resolve) => setTimeout(resolve, millis));
      await settle();
    },
    asked: (path) => {
      const found = server.match((request) => request.url === path && !request.reportProgress);
      if (found.length === 0) throw new Error(`nothing was asked of ${path}`);
      return found.at(-1)!;
    },
    awaited: async (path) => {
      const end = performance.now() + 10_000;
      for (;;) {
        const found = server.match((request) => request.url === path && !request.reportProgress);
        if (found.length > 0) return found.at(-1)!;
        if (performance.now() > end) throw new Error(`nothing was asked of ${path} in 10 s`);
        await new Promise((resolve) => setTimeout(resolve, 5));
      }
    },
    answer: async (path, body) => {
      const request = part.asked(path);
      request.flush(body);
      await settle();
      return request;
    },
    answerAll: async (path, body) => {
      for (const request of server.match((each) => each.url === path)) request.flush(body);
      await settle();
    },
    refuse: async (path, { status, ...body }) => {
      const asked = part.asked(path);
      asked.flush({ type: '', title: '', status, requestId: '', ...body }, { status, statusText: 'refused' });
      await settle();
      return asked;
    },
    button: (name) => {
      const found = [...root.querySelectorAll('button')].find((each) => fits(textOf(each), name));
      if (!found)
        throw new Error(
          `no button ${String(name)} among: ${[...root.querySelectorAll('button')].map(textOf).join(' | ')}`,
        );
      return found;
    },
    field: <Control extends HTMLElement>(label: string | RegExp) => {
      const labelled = [...root.querySelectorAll<HTMLElement>('[aria-label]')].find(
        (each) => /^(INPUT|MAT-SELECT|TEXTAREA)$/.test(each.tagName) && fits(textOf(each), label),
      );
      const inField = [...root.querySelectorAll('mat-form-field')]
        .find((each) =>
          fits((each.querySelector('mat-label')?.textContent ?? '').replace(/\s+/g, ' ').trim(), label),
        )
        ?.querySelector<HTMLElement>('input, mat-select, textarea');
      const wrapped = [...root.querySelectorAll('label')]
        .find((each) =>
          fits(
            (each.querySelector('span')?.textContent ?? each.textContent ?? '').replace(/\s+/g, ' ').trim(),
            label,
          ),
        )
        ?.querySelector<HTMLElement>('input, mat-select, textarea');
      const named = [...root.querySelectorAll('label')].find(
        (each) => each.htmlFor !== '' && fits(each.textContent.replace(/\s+/g, ' ').trim(), label),
      )?.control;
      const found = labelled ?? inField ?? wrapped ?? named;
      if (!found) throw new Error(`no field ${String(label)}`);
      return found as Control;
    },
    type: async (control, text) => {
      control.value = text;
      control.dispatchEvent(new Event('input', { bubbles: true }));
      control.dispatchEvent(new Event('change', { bubbles: true }));
      await settle();
    },
    pressUndo: async () => {
      const undo = [...document.querySelectorAll('button')].find((each) => textOf(each) === 'Undo');
      if (!undo) throw new Error('no undo is offered');
      await part.click(undo);
    },
    undoOf: async (asked) => {
      await part.pressUndo();
      return part.asked(`/api/changes/${asked.request.headers.get('X-Change-Id')!}/undo`);
    },
    choicesOf: async (label) => {
      await part.click(triggerOf(part.field<HTMLElement>(label)));
      const names = optionsOf().map(textOf);
      document.querySelector<HTMLElement>('.cdk-overlay-backdrop')?.click();
      await settle();
      return names;
    },
    choose: async (label, choice) => {
      await part.click(triggerOf(label instanceof HTMLElement ? label : part.field<HTMLElement>(label)));
      const found = optionsOf().find((each) => fits(textOf(each), choice));
      if (!found)
        throw new Error(`no choice ${String(choice)} among: ${optionsOf().map(textOf).join(' | ')}`);
      await part.click(found);
    },
    click: async (element) => {
      element.click();
      await settle();
    },
  };
  await settle();
  return part;
}

/** A contact as lists show one; only what the test is about needs to be said. */
/** What a count of a list answers. */
export const aCount = (found: number, part: object = {}) => ({
  found,
  total: found,
  sums: {},
  groups: [],
  ...part,
});

export function aRow(part: object = {}) {
  return {
    id: '01900000-0000-7000-8000-00000000000a',
    name: 'Maud Ellery',
    givenName: 'Maud',
    familyName: 'Ellery',
    jobTitle: 'owner',
    companyId: null,
    companyName: 'Penrow Laundry',
    email: 'maud@penrow.example',
    phone: '+441632960123',
    country: 'GB',
    zone: 'Europe/London',
    standingId: 'customer',
    ownerId: 'me',
    ownerName: 'Imogen Thorne',
    category: 'person',
    source: null,
    warmth: null,
    tags: [],
    lastConversationAt: null,
    createdAt: '2026-01-01T00:00:00.000Z',
    custom: {},
    tether: {
      lastTouchAt: null,
      lastTouchKind: null,
      lastTouchCounts: null,
      nextStepOn: null,
      nextStepChannel: null,
      nextStepAt: null,
    },
    checkInDueOn: null,
    checkInDays: null,
    version: 1,
    ...part,
  } as never;
}

/** A note in the journal; only what the test is about needs to be said. */
export function anEntry(part: Partial<JournalEntry> = {}): JournalEntry {
  return {
    id: '01900000-0000-7000-8000-0000000000e1' as JournalEntry['id'],
    at: '2026-11-23T10:00:00.000Z',
    kind: 'note',
    direction: null,
    outcomeLabel: null,
    counts: 'none',
    minutes: null,
    body: '',
    isRich: false,
    done: [],
    userId: 'me' as JournalEntry['userId'],
    userName: 'Imogen Thorne',
    contactId: null,
    contactName: null,
    dealId: null,
    dealName: null,
    companyId: null,
    companyName: null,
    people: [],
    editedAt: null,
    removedAt: null,
    removedByName: null,
    comments: [],
    thanks: [],
    version: 3,
    ...part,
  };
}

/** Whether a press on a button does nothing just now. */
export const isUnavailable = (button: HTMLButtonElement): boolean =>
  button.disabled || button.getAttribute('aria-disabled') === 'true';
