import { Component, inject } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatBottomSheetRef, MAT_BOTTOM_SHEET_DATA } from '@angular/material/bottom-sheet';
import { Router } from '@angular/router';
import { type Part, showPart } from '../../testing/part';
import { MoreSheet } from './more-sheet';
import { RecordActs } from './record-acts';

const id = (n: number) => `01900000-0000-7000-8000-00000000000${n}`;

describe('the keys act on whatever is open', () => {
  @Component({ selector: 'kettle-test-acts', template: '', providers: [RecordActs] })
  class Acts {
    readonly acts = inject(RecordActs);
  }
  const at = async (url: string): Promise<Part<Acts>> => {
    const part = await showPart(Acts);
    await TestBed.inject(Router).navigateByUrl(url);
    return part;
  };
  const deal = { id: id(2), name: 'Softener', contactId: id(1) };
  const go = () => jest.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);

  test('a call on a deal is logged with its person and the deal', async () => {
    const part = await at(`/deals?open=deal:${id(2)}`);
    const navigate = go();
    const done = part.shown.acts.logCall();
    await part.answer(`/api/deals/${id(2)}`, deal);
    await done;
    expect(navigate).toHaveBeenCalledWith(['/walk'], {
      queryParams: { contact: id(1), by: 'call', deal: id(2) },
    });
  });

  test('a lead that is a page of its own stands for its person', async () => {
    const part = await at(`/deals/leads/${id(3)}`);
    const navigate = go();
    const done = part.shown.acts.logCall();
    await part.answer(`/api/leads/${id(3)}`, { contactId: id(1), contactName: 'Nora Pell' });
    await done;
    expect(navigate).toHaveBeenCalledWith(['/walk'], { queryParams: { contact: id(1), by: 'call' } });
  });

  test('a deal without a person says what is missing; nothing open says what to open', async () => {
    const part = await at(`/deals/${id(2)}`);
    const done = part.shown.acts.writeMail();
    await part.answer(`/api/deals/${id(2)}`, { ...deal, contactId: null });
    await done;
    expect(document.body.textContent).toContain('Nobody is named in Softener');
    const nothing = await (TestBed.resetTestingModule(), at('/round'));
    await nothing.shown.acts.planTask();
    await nothing.settle();
    expect(document.body.textContent).toContain('Open a person, a deal or a lead first');
  });

  test('the soonest step that one may move gets another day, which can be undone', async () => {
    const part = await at(`/people/${id(1)}`);
    const done = part.shown.acts.defer();
    await part.answer(`/api/contacts/${id(1)}`, { id: id(1), name: 'Maud Ellery' });
    const task = (of: object) => ({ version: 2, purpose: 'offer', dueOn: '2026-11-24', ...of });
    await part.answer('/api/tasks', {
      tasks: [
        task({ id: id(7), ownerId: 'dara', ownerName: 'Dara Voss' }),
        task({ id: id(8), ownerId: 'me', ownerName: 'Imogen Thorne' }),
      ],
    });
    await part.pass(80);
    const dialog = document.querySelector<HTMLElement>('kettle-defer-dialog')!;
    expect(dialog.textContent).toContain('Defer: offer');
    const day = dialog.querySelector('input')!;
    day.value = '2026-12-02';
    day.dispatchEvent(new Event('input'));
    day.dispatchEvent(new Event('change'));
    await part.settle();
    dialog.querySelector<HTMLButtonElement>('button[matButton="filled"]')!.click();
    await part.pass(30);
    const asked = part.asked(`/api/tasks/${id(8)}/defer`);
    expect(asked.request.body).toEqual({ version: 2, dueOn: '2026-12-02' });
    asked.flush(task({ id: id(8), dueOn: '2026-12-02' }));
    await done;
    expect(document.body.textContent).toContain('Moved: offer.');
  });

  test('nothing planned says which key plans', async () => {
    const part = await at(`/people/${id(1)}`);
    const done = part.shown.acts.defer();
    await part.answer(`/api/contacts/${id(1)}`, { id: id(1), name: 'Maud Ellery' });
    await part.answer('/api/tasks', { tasks: [] });
    await done;
    expect(document.body.textContent).toContain(
      'Nothing is planned with Maud Ellery that you can move. T plans',
    );
  });
});

describe('on a phone', () => {
  test('what does not stand at the foot comes as a sheet, and answers where to go', async () => {
    const dismissed: string[] = [];
    const part = await showPart(MoreSheet, {
      providers: [
        { provide: MatBottomSheetRef, useValue: { dismiss: (path: string) => dismissed.push(path) } },
        {
          provide: MAT_BOTTOM_SHEET_DATA,
          useValue: { places: [{ path: '/cadences', name: 'Cadences', icon: 'cadence' }] },
        },
      ],
    });
    const names = [...part.root.querySelectorAll('button')].map((each) => each.textContent.trim());
    expect(names).toEqual(['Day', 'Tasks', 'Cadences', 'Recent changes', 'Settings', 'Sign out']);
    for (const button of part.root.querySelectorAll('button')) button.click();
    expect(dismissed).toEqual(['day', '/tasks', '/cadences', '/changes', '/settings', 'sign-out']);
  });
});
