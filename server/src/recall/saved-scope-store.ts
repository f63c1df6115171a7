import type { NamedScope, NewScope } from '@old-echo/core/contracts/scope';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { scopeShape } from '@old-echo/core/recall/scope-rules';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { fromJson, toJson } from '../database/json-column';
import { newId } from '../database/new-id';

/** The scopes saved for one kind of desk, by name. */
export async function savedScopes(db: Database, profileId: string): Promise<NamedScope[]> {
  const rows = await db('saved_scopes').where({ profile_id: profileId }).orderBy('name');
  return rows.map(({ id, name, scope }) => ({ id, name, scope: parseShape(scopeShape, fromJson(scope)) }));
}

/** Saves a scope under a name that none has yet; where one has, that stays as it is. */
export const addScope = (db: Database, { profileId, name, scope }: NewScope): Promise<unknown> =>
  db('saved_scopes')
    .insert({ id: newId(), profile_id: profileId, name, scope: toJson(scope) })
    .onConflict(['profile_id', 'name'])
    .ignore();

/** Saves a scope under its name; one that had the name already is written over. */
export async function saveScope(db: Database, { profileId, name, scope }: NewScope): Promise<NamedScope> {
  if (!(await db('profiles').where({ id: profileId }).first('id')))
    throw new Fault('refused-input', 'There is no such desk model.', 'Nothing was saved.', 'profileId');
  await db('saved_scopes')
    .insert({ id: newId(), profile_id: profileId, name, scope: toJson(scope) })
    .onConflict(['profile_id', 'name'])
    .merge(['scope']);
  return found((await savedScopes(db, profileId)).find((saved) => saved.name === name));
}
