import { Injector, type Type } from '@angular/core';
import type { ListPlace } from '@kettle/contract';
import { GridSpec } from '../grid/index';

/** What lists each place, loaded when something needs to know its fields or its rows. */
export const listSpecs: Readonly<Record<ListPlace, () => Promise<Type<GridSpec>>>> = {
  people: () => import('../contacts/people-grid').then((m) => m.PeopleGrid as Type<GridSpec>),
  companies: () => import('../companies/companies-grid').then((m) => m.CompaniesGrid as Type<GridSpec>),
  tasks: () => import('../tasks/tasks-grid').then((m) => m.TasksGrid as Type<GridSpec>),
  deals: () => import('../deals/deals-grid').then((m) => m.DealsGrid as Type<GridSpec>),
  leads: () => import('../leads/leads-grid').then((m) => m.LeadsGrid as Type<GridSpec>),
  agreements: () => import('../agreements/agreements-grid').then((m) => m.AgreementsGrid as Type<GridSpec>),
  mail: () => import('../mail/mail-grid').then((m) => m.MailGrid as Type<GridSpec>),
};

/** One of its own, for a part that is no page of that list. */
export const makeSpec = (Spec: Type<GridSpec>, parent: Injector): GridSpec =>
  Injector.create({ providers: [{ provide: GridSpec, useClass: Spec }], parent }).get<GridSpec>(GridSpec);
