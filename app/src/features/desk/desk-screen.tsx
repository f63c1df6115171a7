import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect } from 'react';

import { useDesk } from '../../live/use-desk';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { Split } from '../../ui/page';
import { Waiting } from '../../ui/waiting';
import { wentToDesk } from '../shell/place-slice';
import { useKeys, useRowKeys } from '../shell/use-keys';
import { StripPage } from '../strip/strip-page';
import { DeskList } from './desk-list';
import { Drifted } from './drifted';

/** Desk: what stands on it, its drift, all strips; a strip's own page beside or over it. */
export function DeskScreen() {
  const { desk: deskId, strip } = useLocalSearchParams<{ desk: string; strip?: string }>();
  const dispatch = useAppDispatch();
  const router = useRouter();
  const followed = useAppSelector((root) => root.place.deskId);
  const now = useDesk();
  useEffect(() => {
    if (deskId !== followed) dispatch(wentToDesk(deskId));
  }, [deskId, followed, dispatch]);
  useRowKeys('strip-');
  const toList = () => router.navigate(`/desk/${deskId}`);
  useKeys({ Escape: toList });
  if (now?.desk.id !== deskId) return <Waiting what="Reading the desk" />;
  return (
    <Split
      showDetail={strip !== undefined}
      list={<DeskList now={now} chosen={strip} />}
      detail={
        strip === undefined ? <Drifted now={now} /> : <StripPage key={strip} now={now} strip={strip} onBack={toList} />
      }
    />
  );
}
