import { useRouter } from 'expo-router';

import { plural } from '@old-echo/core/phrases/format-value';

import { useDesksQuery } from '../store/desk-api';
import { useProductionsQuery } from '../store/scenes-api';
import { MenuRow } from '../ui/menu';
import { Option } from '../ui/option';
import { Sheet } from '../ui/sheet';

/** All productions, to go to another. */
export function ProductionSheet({ open, current, onClose }: { open: boolean; current: string; onClose: () => void }) {
  const router = useRouter();
  const { data: productions = [] } = useProductionsQuery();
  const { data: desks = [] } = useDesksQuery();
  return (
    <Sheet title="Songs and shows" open={open} onClose={onClose}>
      {productions
        .filter((production) => !production.binnedAt)
        .map((production) => (
          <Option
            key={production.id}
            title={production.name}
            under={`${production.kind === 'song' ? 'Song' : 'Show'} on ${desks.find((d) => d.id === production.deskId)?.name} · ${plural(production.versions.length, 'version')}`}
            chosen={production.id === current}
            onPress={() => {
              onClose();
              router.navigate(`/mixes/${production.id}`);
            }}
          />
        ))}
      <MenuRow
        title="All songs and shows"
        under="New, order, bin"
        onPress={() => {
          onClose();
          router.navigate('/productions');
        }}
      />
    </Sheet>
  );
}
