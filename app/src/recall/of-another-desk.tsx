import { type Href, useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import { useDesksQuery } from '../store/desk-api';
import { useProductionsQuery } from '../store/scenes-api';
import { MainAction } from '../ui/buttons';
import { Empty, Header } from '../ui/layout';

interface Stranger {
  /** The desk that the address names. */
  readonly here: string;
  /** The desk that it was made on. */
  readonly there: string;
  readonly to?: Href;
}

/** Where an address asks for a scene on another desk than the one it was made on: both of them. */
export function useStranger(deskId: string, productionId: string | undefined): Stranger | undefined {
  const there = useProductionsQuery().data?.find(({ id }) => id === productionId)?.deskId;
  return there && there !== deskId ? { here: deskId, there } : undefined;
}

/** Nothing of one desk is sent to another: says so, and leads to the desk it was made on. */
export function OfAnotherDesk({ here, there, to }: Stranger) {
  const router = useRouter();
  const { data: desks = [] } = useDesksQuery();
  const name = (id: string) => desks.find((desk) => desk.id === id)?.name ?? 'another desk';
  return (
    <View style={styles.fill}>
      <Header title={`Made on ${name(there)}`} onBack={() => router.navigate(`/desk/${here}`)} />
      <View style={styles.fill}>
        <Empty title={`This is not a scene of ${name(here)}`}>
          {`It was made on ${name(there)}. Nothing is sent to ${name(here)}: carry it over first, from its page.`}
        </Empty>
      </View>
      <MainAction title={`Go to ${name(there)}`} onPress={() => router.navigate(to ?? `/desk/${there}`)} />
    </View>
  );
}

const styles = StyleSheet.create({ fill: { flex: 1, minWidth: 0 } });
