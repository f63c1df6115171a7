import { View } from 'react-native';
import { HelperText, TextInput, type TextInputProps } from 'react-native-paper';

interface FieldProps extends Pick<
  TextInputProps,
  | 'multiline'
  | 'inputMode'
  | 'secureTextEntry'
  | 'placeholder'
  | 'error'
  | 'testID'
  | 'onSubmitEditing'
  | 'onFocus'
  | 'selectTextOnFocus'
  | 'autoFocus'
> {
  readonly label: string;
  readonly value: string;
  readonly onChangeText: (text: string) => void;
  /** The most characters it may have. What is longer is kept and said, not cut. */
  readonly maxLength?: number;
}

/** From this share of its length on a field says how much room is left. */
const NEARLY_FULL = 0.8;

/** A line or a paragraph to write, named for the eye and for screen readers; says its limit before it is met. */
export function Field({ maxLength, error, ...props }: FieldProps) {
  const { length } = props.value;
  const over = maxLength !== undefined && length > maxLength;
  return (
    <View>
      <TextInput
        mode="outlined"
        accessibilityLabel={props.label}
        numberOfLines={props.multiline ? 3 : 1}
        error={error === true || over}
        {...props}
      />
      {maxLength !== undefined && length > maxLength * NEARLY_FULL ? (
        <HelperText type={over ? 'error' : 'info'} testID="length">
          {over
            ? `At most ${maxLength} characters; these are ${length}. Shorten it by ${length - maxLength}.`
            : `${length} of ${maxLength} characters`}
        </HelperText>
      ) : null}
    </View>
  );
}
