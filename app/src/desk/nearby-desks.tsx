import type { FoundDesk } from '@old-echo/core/desk/link-trial';

import { Loading } from '../components/loading';
import { useNearbyDesksQuery } from '../store/desk-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Option } from '../ui/option';
import { Sheet } from '../ui/sheet';

interface NearbyDesksProps {
  readonly onChoose: (desk: FoundDesk) => void;
  readonly onClose: () => void;
}

/** Desks that answer on the network and are not in use here, to be chosen instead of typed. */
export function NearbyDesks({ onChoose, onClose }: NearbyDesksProps) {
  const { data: desks, isFetching, isError, refetch } = useNearbyDesksQuery();
  return (
    <Sheet title="On the network" open onClose={onClose}>
      {desks === undefined && !isError ? <Loading what="Looking for desks" /> : null}
      {(desks ?? []).map((desk) => (
        <Option
          key={`${desk.host}:${desk.port}`}
          title={desk.name}
          under={`${desk.host}:${desk.port}`}
          chosen={false}
          onPress={() => {
            onChoose(desk);
            onClose();
          }}
        />
      ))}
      {desks?.length === 0 ? (
        <AppText tone="second">No other desk says that it is there. It can be added by its address.</AppText>
      ) : null}
      <Action title="Look again" busy={isFetching} onPress={() => void refetch()} />
    </Sheet>
  );
}
