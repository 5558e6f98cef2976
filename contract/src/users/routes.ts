import * as z from 'zod';
import { ok, type RouteSpec } from '../base/route';
import { changeMyHours, colleague, createFirstAdmin, doorstep, person, session, signIn } from './schemas';

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
  listColleagues: {
    access: 'rep',
    summary: 'Everyone who can own records',
    reply: z.object({ people: z.array(colleague) }),
  },
} as const satisfies Record<string, RouteSpec>;
