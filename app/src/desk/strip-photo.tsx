import { skipToken } from '@reduxjs/toolkit/query';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { OUTBOARD_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { truncate } from '@old-echo/core/fault/text-shapes';

import { useDeskProduction } from '../components/use-desk-production';
import { faultLine } from '../store/api';
import { useNewOutboardMutation, useOutboardQuery, usePhotographMutation } from '../store/library-api';
import { noticed } from '../store/notice-slice';
import { useAppDispatch } from '../store/store';
import { Action } from '../ui/buttons';
import { chooseFiles } from '../ui/choose-files';

/** The longest name of a unit of outboard gear. */
const MAX_UNIT_NAME = 80;

/** A photo of a strip, kept with the scenes that are captured from now on, among the outboard gear of their song or show. */
export function StripPhoto({ desk, name }: { readonly desk: DeskView; readonly name: string }) {
  const dispatch = useAppDispatch();
  const production = useDeskProduction(desk);
  const { data: units } = useOutboardQuery(production?.id ?? skipToken);
  const [add, adding] = useNewOutboardMutation();
  const [photograph, sending] = usePhotographMutation();
  const title = truncate(`${desk.name}: ${name}`, MAX_UNIT_NAME);
  const known = units?.find((unit) => unit.name === title);
  const take = async (photo: File) => {
    if (!production) return;
    const added = known
      ? undefined
      : await add({ production: production.id, device: { name: title, controls: [], note: '' } });
    const unit = known ?? added?.data?.find((one) => one.name === title);
    const { error } = unit
      ? await photograph({ production: production.id, id: unit.id, photo })
      : { error: added?.error };
    dispatch(noticed(error ? faultLine(error) : `Photo of ${name} saved. It goes with the next scene.`));
  };
  return (
    <Action
      asks={OUTBOARD_ROUTES.setOutboardPhoto}
      kind="quiet"
      title={known?.photo ? `Another photo of ${name}` : `Photo of ${name}`}
      busy={adding.isLoading || sending.isLoading}
      disabled={!production ? 'Create a song or show for this desk first.' : !units && 'The photos are not loaded yet.'}
      onPress={() => chooseFiles({ accept: 'image/jpeg,image/png,image/webp' }, ([photo]) => photo && void take(photo))}
    />
  );
}
