import type { Routes } from '@angular/router';
import { needsSession } from './shell/needs-session';

/** Every view has an address; pages are loaded when they are first gone to. The door, `/sign-in`, stands before them (`door.ts`). */
export const routes: Routes = [
  {
    path: 'account',
    title: $localize`Choose your password · Ash Kettle`,
    loadComponent: () => import('./features/accounts/choose-password-page').then((m) => m.ChoosePasswordPage),
  },
  {
    path: '',
    canActivate: [needsSession],
    loadComponent: () => import('./shell/shell').then((m) => m.Shell),
    children: [
      { path: '', pathMatch: 'full', redirectTo: 'round' },
      {
        path: 'home',
        title: $localize`Home · Ash Kettle`,
        loadComponent: () => import('./features/home/home-page').then((m) => m.HomePage),
      },
      {
        path: 'team',
        title: $localize`Team · Ash Kettle`,
        loadComponent: () => import('./features/team/team-page').then((m) => m.TeamPage),
      },
      {
        path: 'round',
        title: $localize`Round · Ash Kettle`,
        loadComponent: () => import('./features/round/round-page').then((m) => m.RoundPage),
      },
      {
        path: 'round/done',
        title: $localize`What I did · Ash Kettle`,
        loadComponent: () => import('./features/round/done-page').then((m) => m.DonePage),
      },
      {
        path: 'walk/end',
        title: $localize`What came of the walk · Ash Kettle`,
        loadComponent: () => import('./features/round/walk-end').then((m) => m.WalkEnd),
      },
      {
        path: 'walk',
        title: $localize`Walk the round · Ash Kettle`,
        loadComponent: () => import('./features/round/walk-page').then((m) => m.WalkPage),
      },
      {
        path: 'people',
        title: $localize`People · Ash Kettle`,
        loadComponent: () => import('./features/contacts/people-page').then((m) => m.PeoplePage),
      },
      {
        path: 'numbers',
        title: $localize`Numbers · Ash Kettle`,
        loadComponent: () => import('./features/numbers/numbers-page').then((m) => m.NumbersPage),
      },
      {
        path: 'import',
        title: $localize`Import · Ash Kettle`,
        loadComponent: () => import('./features/imports/import-page').then((m) => m.ImportPage),
      },
      { path: 'people/import', redirectTo: 'import' },
      {
        path: 'people/duplicates',
        title: $localize`Duplicates · Ash Kettle`,
        loadComponent: () => import('./features/contacts/duplicates-page').then((m) => m.DuplicatesPage),
      },
      {
        path: 'people/companies',
        title: $localize`Companies · Ash Kettle`,
        loadComponent: () => import('./features/companies/companies-page').then((m) => m.CompaniesPage),
      },
      {
        path: 'companies/:id',
        title: $localize`Company · Ash Kettle`,
        loadComponent: () => import('./features/dossier/dossier-page').then((m) => m.DossierPage),
        data: { kind: 'company' },
      },
      {
        path: 'tasks',
        title: $localize`Tasks · Ash Kettle`,
        loadComponent: () => import('./features/tasks/tasks-page').then((m) => m.TasksPage),
      },
      {
        path: 'people/:id',
        title: $localize`Person · Ash Kettle`,
        loadComponent: () => import('./features/dossier/dossier-page').then((m) => m.DossierPage),
        data: { kind: 'contact' },
      },
      {
        path: 'deals',
        title: $localize`Deals · Ash Kettle`,
        loadComponent: () => import('./features/deals/deals-page').then((m) => m.DealsPage),
      },
      {
        path: 'deals/leads',
        title: $localize`Leads · Ash Kettle`,
        loadComponent: () => import('./features/leads/leads-page').then((m) => m.LeadsPage),
      },
      {
        path: 'deals/leads/:id/qualify',
        title: $localize`Qualify · Ash Kettle`,
        loadComponent: () => import('./features/leads/qualify-page').then((m) => m.QualifyPage),
      },
      {
        path: 'deals/leads/:id',
        title: $localize`Lead · Ash Kettle`,
        loadComponent: () => import('./features/dossier/dossier-page').then((m) => m.DossierPage),
        data: { kind: 'lead' },
      },
      {
        path: 'deals/:id',
        title: $localize`Deal · Ash Kettle`,
        loadComponent: () => import('./features/dossier/dossier-page').then((m) => m.DossierPage),
        data: { kind: 'deal' },
      },
      {
        path: 'cadences',
        title: $localize`Cadences · Ash Kettle`,
        loadComponent: () => import('./features/cadences/cadences-page').then((m) => m.CadencesPage),
      },
      {
        path: 'cadences/templates',
        title: $localize`Templates · Ash Kettle`,
        loadComponent: () => import('./features/templates/templates-page').then((m) => m.TemplatesPage),
      },
      {
        path: 'cadences/new',
        title: $localize`New cadence · Ash Kettle`,
        loadComponent: () => import('./features/cadences/cadence-page').then((m) => m.CadencePage),
      },
      {
        path: 'cadences/:id',
        title: $localize`Cadence · Ash Kettle`,
        loadComponent: () => import('./features/cadences/cadence-page').then((m) => m.CadencePage),
      },
      {
        path: 'mail',
        title: $localize`Mail · Ash Kettle`,
        loadComponent: () => import('./features/mail/mail-page').then((m) => m.MailPage),
      },
      {
        path: 'calendar/road',
        title: $localize`Day on the road · Ash Kettle`,
        loadComponent: () => import('./features/field-days/field-day-page').then((m) => m.FieldDayPage),
      },
      {
        path: 'calendar',
        title: $localize`Calendar · Ash Kettle`,
        loadComponent: () => import('./features/calendar/calendar-page').then((m) => m.CalendarPage),
      },
      {
        path: 'renewals',
        title: $localize`Renewals · Ash Kettle`,
        loadComponent: () => import('./features/agreements/renewals-page').then((m) => m.RenewalsPage),
      },
      {
        path: 'agreements/:id',
        title: $localize`Agreement · Ash Kettle`,
        loadComponent: () => import('./features/agreements/agreement-page').then((m) => m.AgreementPage),
      },
      {
        path: 'invoices',
        title: $localize`Invoices · Ash Kettle`,
        loadComponent: () => import('./features/invoices/invoices-page').then((m) => m.InvoicesPage),
      },
      {
        path: 'invoices/:id',
        title: $localize`Invoice · Ash Kettle`,
        loadComponent: () => import('./features/invoices/invoice-page').then((m) => m.InvoicePage),
      },
      {
        path: 'quotes/:id',
        title: $localize`Quote · Ash Kettle`,
        loadComponent: () => import('./features/quotes/quote-page').then((m) => m.QuotePage),
      },
      {
        path: 'search',
        title: $localize`Search · Ash Kettle`,
        loadComponent: () => import('./features/search/search-page').then((m) => m.SearchPage),
      },
      {
        path: 'changes',
        title: $localize`Recent changes · Ash Kettle`,
        loadComponent: () => import('./features/changes/changes-page').then((m) => m.ChangesPage),
      },
      {
        path: 'settings',
        title: $localize`Settings · Ash Kettle`,
        loadComponent: () => import('./features/settings/settings-page').then((m) => m.SettingsPage),
      },
      {
        path: '**',
        title: $localize`Not here · Ash Kettle`,
        loadComponent: () => import('./shell/not-here').then((m) => m.NotHere),
      },
    ],
  },
];
