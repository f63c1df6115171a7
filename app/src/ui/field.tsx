import { TextInput, type TextInputProps } from 'react-native-paper';

interface FieldProps extends Pick<
  TextInputProps,
  'multiline' | 'maxLength' | 'placeholder' | 'error' | 'testID' | 'onSubmitEditing' | 'onFocus' | 'selectTextOnFocus'
> {
  readonly label: string;
  readonly value: string;
  readonly onChangeText: (text: string) => void;
}

/** A line or a paragraph to write, named for the eye and for screen readers. */
export function Field(props: FieldProps) {
  return (
    <TextInput mode="outlined" accessibilityLabel={props.label} numberOfLines={props.multiline ? 3 : 1} {...props} />
  );
}
