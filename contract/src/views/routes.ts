import * as z from 'zod';
import { viewId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import { changeView, favourView, pinView, saveView, savedView, viewPlace } from './schemas';

export const viewsRoutes = {
  listViews: {
    access: 'rep',
    summary: 'My views and shared ones',
    query: z.object({ place: viewPlace }),
    reply: z.object({ views: z.array(savedView) }),
  },
  saveView: { access: 'rep', summary: 'Save a view under a name', body: saveView, reply: savedView },
  changeView: {
    access: 'rep',
    summary: 'Change a view of mine',
    params: byId.extend({ id: viewId }),
    body: changeView,
    reply: savedView,
  },
  removeView: {
    access: 'rep',
    summary: 'Remove a view of mine',
    params: byId.extend({ id: viewId }),
    reply: ok,
  },
  pinView: {
    access: 'rep',
    summary: 'Land on this view, or no longer',
    params: byId.extend({ id: viewId }),
    body: pinView,
    refersTo: ['params.id'],
    reply: ok,
  },
  favourView: {
    access: 'rep',
    summary: 'Keep this view at hand, or no longer',
    params: byId.extend({ id: viewId }),
    body: favourView,
    refersTo: ['params.id'],
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
