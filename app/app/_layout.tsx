import { AtkinsonHyperlegibleMono_400Regular } from '@expo-google-fonts/atkinson-hyperlegible-mono/400Regular';
import { AtkinsonHyperlegibleNext_400Regular } from '@expo-google-fonts/atkinson-hyperlegible-next/400Regular';
import { AtkinsonHyperlegibleNext_600SemiBold } from '@expo-google-fonts/atkinson-hyperlegible-next/600SemiBold';
import { Fraunces_600SemiBold } from '@expo-google-fonts/fraunces/600SemiBold';
import { useFonts } from 'expo-font';
import { Slot } from 'expo-router';
import { useColorScheme } from 'react-native';
import { PaperProvider } from 'react-native-paper';
import { SafeAreaProvider } from 'react-native-safe-area-context';
import { Provider } from 'react-redux';

import { Shell } from '../src/shell/shell';
import { noticed } from '../src/store/notice-slice';
import { store, useAppDispatch, useAppSelector } from '../src/store/store';
import { dayTheme, nightTheme } from '../src/ui/theme';
import { SayWhyNot } from '../src/ui/why-not';

export default function Layout() {
  // The page does not wait for them: text is readable before they arrive.
  useFonts({
    Fraunces_600SemiBold,
    AtkinsonHyperlegibleMono_400Regular,
    AtkinsonHyperlegibleNext_400Regular,
    AtkinsonHyperlegibleNext_600SemiBold,
  });
  return (
    <Provider store={store}>
      <SafeAreaProvider>
        <Themed />
      </SafeAreaProvider>
    </Provider>
  );
}

function Themed() {
  const dispatch = useAppDispatch();
  const system = useColorScheme();
  const appearance = useAppSelector((root) => root.place.appearance);
  const night = appearance === 'night' || (appearance === 'auto' && system === 'dark');
  return (
    <SayWhyNot value={(why) => dispatch(noticed(why))}>
      <PaperProvider theme={night ? nightTheme : dayTheme} settings={{ icon: () => null }}>
        <Shell>
          <Slot />
        </Shell>
      </PaperProvider>
    </SayWhyNot>
  );
}
