import type { SavedView, ViewId } from '@kettle/contract';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../users/index';
import { mergeChange } from '../../platform/work/merge-change';
import { work, type PersonWork } from '../../platform/work/work';
import type { Row, Tables } from '../../platform/database/schema.generated';

type Names = 'listViews' | 'saveView' | 'changeView' | 'removeView' | 'pinView' | 'favourView';

interface ViewRow extends Row<
  'saved_view',
  'id' | 'place' | 'name' | 'query' | 'is_shared' | 'user_id' | 'version'
> {
  owner_name: Tables['app_user']['name'];
  is_landing: number;
  is_favourite: number;
}

/** Mine and shared ones of a place, mine first. */
async function readViews(
  db: Queryable,
  who: SignedIn,
  where: string,
  parameters: Record<string, string | Buffer>,
): Promise<SavedView[]> {
  const rows = await db.rows<ViewRow>(
    `SELECT v.id, v.place, v.name, v.query, v.is_shared, v.user_id, u.name AS owner_name, v.version,
            EXISTS (SELECT 1 FROM landing_view l WHERE l.view_id = v.id AND l.user_id = :me) AS is_landing,
            EXISTS (SELECT 1 FROM favourite_view f WHERE f.view_id = v.id AND f.user_id = :me) AS is_favourite
       FROM saved_view v JOIN app_user u ON u.id = v.user_id
      WHERE (v.user_id = :me OR v.is_shared) AND ${where}
      ORDER BY v.user_id <> :me, v.name, v.id`,
    { ...parameters, me: bytesOf(who.id) },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    place: row.place,
    name: row.name,
    query: row.query,
    isShared: row.is_shared === 1,
    isLanding: row.is_landing === 1,
    isFavourite: row.is_favourite === 1,
    ownerId: idOf(row.user_id),
    ownerName: row.owner_name,
    version: row.version,
  }));
}

const fields = {
  name: { column: 'name' },
  query: { column: 'query' },
  isShared: { column: 'is_shared' },
};

export function viewsRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  const readView = async (who: SignedIn, id: string, db: Queryable = database): Promise<SavedView> => {
    const [view] = await readViews(db, who, 'v.id = :id', { id: bytesOf(id) });
    if (!view) throw new Problem('not-found');
    return view;
  };
  const readMine = async (who: SignedIn, id: string, db: Queryable = database): Promise<SavedView> => {
    const view = await readView(who, id, db);
    if (view.ownerId !== who.id) throw new Problem('not-yours', { owner: view.ownerName });
    return view;
  };
  /** Writes, and refuses a name that another view of the person has. */
  const write = async <Result>(
    who: SignedIn,
    name: string,
    act: (w: PersonWork) => Promise<Result>,
  ): Promise<Result> => {
    try {
      return await work(services, who, act);
    } catch (error) {
      if (isDuplicateKey(error)) throw new Problem('already-exists', { what: name });
      throw error;
    }
  };

  return {
    listViews: async ({ query, who }) => ({
      views: await readViews(database, who, 'v.place = :place', { place: query.place }),
    }),
    saveView: async ({ body, who }) => {
      const made = await write(who, body.name, async (w) => {
        const id = newId<ViewId>();
        await w.change(
          `INSERT INTO saved_view (id, user_id, place, name, query, is_shared)
           VALUES (:id, :me, :place, :name, :query, :isShared)`,
          { ...body, id: bytesOf(id), me: bytesOf(who.id) },
        );
        w.say($localize`View “${body.name}:name:” saved`);
        return id;
      });
      return readView(who, made);
    },
    changeView: async ({ params, body: asked, who }) => {
      await write(who, asked.name, async (w) => {
        await w.rows('SELECT 1 FROM saved_view WHERE id = :id FOR UPDATE', { id: bytesOf(params.id) });
        const record = await readMine(who, params.id, w);
        const change = { table: 'saved_view', id: params.id, fields, asked, record };
        const { name, query, isShared } = await mergeChange(w, change);
        await w.change(
          `UPDATE saved_view SET name = :name, query = :query, is_shared = :isShared, version = version + 1
            WHERE id = :id`,
          { id: bytesOf(params.id), name, query, isShared },
        );
        w.say($localize`View “${name}:name:” changed`);
        // Nobody lands on a view that they can no longer see.
        if (!isShared)
          for (const table of ['landing_view', 'favourite_view'])
            await w.change(`DELETE FROM ${table} WHERE view_id = :id AND user_id <> :me`, {
              id: bytesOf(params.id),
              me: bytesOf(who.id),
            });
      });
      return readView(who, params.id);
    },
    removeView: async ({ params, who }) => {
      const { name } = await readMine(who, params.id);
      await write(who, name, async (w) => {
        for (const table of ['landing_view', 'favourite_view'])
          await w.change(`DELETE FROM ${table} WHERE view_id = :id`, { id: bytesOf(params.id) });
        await w.change('DELETE FROM saved_view WHERE id = :id', { id: bytesOf(params.id) });
        w.say($localize`View “${name}:name:” deleted`);
      });
      return { ok: true };
    },
    favourView: async ({ params, body, who }) => {
      const { name } = await readView(who, params.id);
      await write(who, name, async (w) => {
        const mine = { me: bytesOf(who.id), id: bytesOf(params.id) };
        await w.change(
          body.isFavourite
            ? 'INSERT IGNORE INTO favourite_view (user_id, view_id) VALUES (:me, :id)'
            : 'DELETE FROM favourite_view WHERE user_id = :me AND view_id = :id',
          mine,
        );
      });
      return { ok: true };
    },
    pinView: async ({ params, body, who }) => {
      const { place, name } = await readView(who, params.id);
      await write(who, name, async (w) => {
        const mine = { me: bytesOf(who.id), place };
        await w.change('DELETE FROM landing_view WHERE user_id = :me AND place = :place', mine);
        if (body.isLanding)
          await w.change('INSERT INTO landing_view (user_id, place, view_id) VALUES (:me, :place, :id)', {
            ...mine,
            id: bytesOf(params.id),
          });
      });
      return { ok: true };
    },
  };
}
