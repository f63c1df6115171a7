import { Redirect } from 'expo-router';

import { useProductionsQuery } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { Empty } from '../../ui/page';
import { Waiting } from '../../ui/waiting';

/** Opens the production of the last visit, or the first one of the desk. */
export function AnyProduction() {
  const { data: productions } = useProductionsQuery();
  const { productionId, deskId } = useAppSelector((root) => root.place);
  if (!productions) return <Waiting what="Opening the mixes" />;
  const last = productions.find((p) => p.id === productionId && p.deskId === deskId);
  const production = last ?? productions.find((p) => p.deskId === deskId) ?? productions[0];
  if (!production)
    return <Empty title="No productions yet">A production holds the scenes of one song or one show.</Empty>;
  return <Redirect href={`/mixes/${production.id}`} />;
}
