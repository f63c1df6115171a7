import { Redirect, useLocalSearchParams } from 'expo-router';

import { Loading } from '../components/loading';
import { deskHref } from '../store/desk-address';
import { useRestoreQuery } from '../store/recall-api';
import { useProductionsQuery, useSceneQuery } from '../store/scenes-api';
import { useDeskId } from '../store/use-live-desk';

/** Addresses without a desk, short ones and those of earlier days, lead on to the desk that is meant. */

export const ToScope = () => <ToScene below="" />;
export const ToPreview = () => <ToScene below="/preview" />;

function ToScene({ below }: { readonly below: string }) {
  const { scene: id, ...query } = useLocalSearchParams<{ scene: string }>();
  const { data: scene } = useSceneQuery(id);
  const deskId = useProductionsQuery().data?.find((production) => production.id === scene?.productionId)?.deskId;
  const search = new URLSearchParams(query).toString();
  return deskId ? (
    <Redirect href={deskHref(deskId, `restore/${id}${below}${search && `?${search}`}`)} />
  ) : (
    <Loading what="Loading the scene" />
  );
}

export function ToRestore() {
  const { restore: id } = useLocalSearchParams<{ restore: string }>();
  const { data: restore } = useRestoreQuery(id);
  return restore ? (
    <Redirect href={deskHref(restore.deskId, `restores/${id}`)} />
  ) : (
    <Loading what="Loading the restore" />
  );
}

export function ToCapture() {
  const deskId = useDeskId();
  return deskId ? <Redirect href={deskHref(deskId, 'capture')} /> : <Loading what="Reading the desk" />;
}
