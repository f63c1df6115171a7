import { MAX_DEPTH, MAX_VALUES, tooMuch } from './bounded-input';

const [QUOTE, COMMA, ESCAPE] = [0x22, 0x2c, 0x5c];
const [LIST, LIST_END, OBJECT, OBJECT_END] = [0x5b, 0x5d, 0x7b, 0x7d];

/**
 * Refuses a JSON text with more values or deeper nesting than anything of ours has, before anything is made of it: made into values, it
 * can take more memory than there is, which ends a process whatever it catches. Whether it is JSON is for whoever reads it.
 * @throws Fault `refused-input`
 */
export function assertBoundedJson(text: string): void {
  let [values, depth] = [1, 0];
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code === QUOTE) i = endOfString(text, i);
    else if (code === COMMA) values++;
    else if (code === LIST || code === OBJECT) {
      values++;
      depth++;
    } else if (code === LIST_END || code === OBJECT_END) depth--;
    if (values > MAX_VALUES) throw tooMuch(`It holds more than ${MAX_VALUES} values.`, '');
    if (depth > MAX_DEPTH) throw tooMuch(`It is nested more than ${MAX_DEPTH} deep.`, '');
  }
}

function endOfString(text: string, start: number): number {
  for (let i = start + 1; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code === ESCAPE) i++;
    else if (code === QUOTE) return i;
  }
  return text.length;
}
