import * as z from 'zod';
import { byId, ok, type RouteSpec } from '../base/route';
import {
  absence,
  changeMyHours,
  colleague,
  createFirstAdmin,
  doorstep,
  person,
  planAbsence,
  session,
  signIn,
} from './schemas';

export const usersRoutes = {
  doorstep: { access: 'anyone', summary: 'What the sign-in page offers', reply: doorstep },
  signIn: { access: 'anyone', summary: 'Sign in', body: signIn, reply: session },
  createFirstAdmin: {
    access: 'anyone',
    summary: 'Make the first admin of an empty installation',
    body: createFirstAdmin,
    reply: session,
  },
  session: { access: 'rep', summary: 'Who is signed in', beforeSecondFactor: true, reply: session },
  signOut: { access: 'rep', summary: 'Sign out', beforeSecondFactor: true, reply: ok },
  changeMyHours: {
    access: 'rep',
    summary: 'Change my zone and working hours',
    body: changeMyHours,
    reply: person,
  },
  listAbsences: {
    access: 'rep',
    summary: 'Absences that are not over, of everybody',
    reply: z.object({ absences: z.array(absence) }),
  },
  planAbsence: {
    access: 'rep',
    summary: 'Somebody is away for some days, and who works their Round meanwhile',
    body: planAbsence,
    refersTo: ['body.standInId', 'body.userId'],
    reply: absence,
  },
  removeAbsence: { access: 'rep', summary: 'They are not away after all', params: byId, reply: ok },
  listColleagues: {
    access: 'rep',
    summary: 'Everyone who can own records',
    reply: z.object({ people: z.array(colleague) }),
  },
} as const satisfies Record<string, RouteSpec>;
