import { useLocalSearchParams, useRouter } from 'expo-router';

import { Empty, Split } from '../ui/layout';
import { useRowNavigation, useShortcuts } from '../ui/use-shortcuts';
import { LibraryList } from './library-list';
import { PresetPage } from './preset-page';

/** Library: what can be used again; one preset beside or over the list. */
export function LibraryScreen() {
  const { preset } = useLocalSearchParams<{ preset?: string }>();
  const router = useRouter();
  const toList = () => router.navigate('/library');
  useRowNavigation('preset', preset === undefined);
  useShortcuts({ Escape: toList });
  return (
    <Split
      showDetail={preset !== undefined}
      list={<LibraryList chosen={preset} />}
      detail={
        preset === undefined ? (
          <Empty title="No preset chosen">Choose a preset to see and hear what it does before it is applied.</Empty>
        ) : (
          <PresetPage key={preset} id={preset} onBack={toList} />
        )
      }
    />
  );
}
