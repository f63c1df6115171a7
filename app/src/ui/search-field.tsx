import Search from 'lucide-react-native/icons/search';
import X from 'lucide-react-native/icons/x';
import { Pressable, StyleSheet } from 'react-native';
import { Searchbar } from 'react-native-paper';

import { Icon } from './icon';
import { CORNER, TOUCH } from './tokens';

interface SearchFieldProps {
  readonly placeholder: string;
  readonly value: string;
  readonly onChange: (text: string) => void;
  /** Whether it takes the keyboard at once: for a field that was just asked for. */
  readonly autoFocus?: boolean;
}

export function SearchField({ placeholder, value, onChange, autoFocus }: SearchFieldProps) {
  return (
    <Searchbar
      role="searchbox"
      placeholder={placeholder}
      value={value}
      onChangeText={onChange}
      autoFocus={autoFocus === true}
      icon={() => <Icon of={Search} />}
      clearIcon={() => (value === '' ? null : <Icon of={X} />)}
      style={styles.field}
    />
  );
}

interface SearchButtonProps {
  /** What it searches: "strips". */
  readonly what: string;
  readonly open: boolean;
  readonly onPress: () => void;
}

/** Opens and closes a search field. */
export function SearchButton({ what, open, onPress }: SearchButtonProps) {
  return (
    <Pressable
      role="button"
      aria-label={open ? 'Close search' : `Search ${what}`}
      onPress={onPress}
      style={styles.button}
    >
      <Icon of={open ? X : Search} />
    </Pressable>
  );
}

const styles = StyleSheet.create({
  field: { borderRadius: CORNER.small },
  button: { width: TOUCH, height: TOUCH, alignItems: 'center', justifyContent: 'center' },
});
