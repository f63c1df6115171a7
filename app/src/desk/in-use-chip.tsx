import { showedInUseOnly } from '../store/preferences-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { Chip } from '../ui/buttons';

/** Leaves out the strips that nobody uses, or shows them again. */
export function InUseChip() {
  const dispatch = useAppDispatch();
  const inUseOnly = useAppSelector((root) => root.place.inUseOnly);
  return <Chip toggle title="In use" chosen={inUseOnly} onPress={() => dispatch(showedInUseOnly(!inUseOnly))} />;
}
