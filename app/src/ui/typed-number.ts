/** What was typed as a number; as it was typed where it is none yet, such as "−" or "1.": whoever reads it says what is wrong. */
export function typedNumber(text: string): number | string {
  const plain = text.trim().replace('−', '-').replace(',', '.');
  return /^-?\d+(\.\d*[1-9])?$/.test(plain) ? Number(plain) : plain;
}
