import { Redirect } from 'expo-router';

import { useAppSelector } from '../../src/store/store';
import { Waiting } from '../../src/ui/waiting';

export default function AnyDesk() {
  const deskId = useAppSelector((root) => root.place.deskId);
  return deskId ? <Redirect href={`/desk/${deskId}`} /> : <Waiting what="Looking for the desks" />;
}
