import { MAX_DEPTH, MAX_VALUES, tooMuch } from './bounded-input';

const [QUOTE, COMMA, ESCAPE] = [0x22, 0x2c, 0x5c];
const [LIST, LIST_END, OBJECT, OBJECT_END] = [0x5b, 0x5d, 0x7b, 0x7d];

/**
 * Refuses JSON with more values or deeper nesting than anything of ours has, before anything is made of it: made into values, it can
 * take more memory than there is, which ends a process whatever it catches. Whether it is JSON is for whoever reads it.
 * @param json as it arrives, in UTF-8
 * @param most values, each name of an object with what it names as one
 * @throws Fault `refused-input`
 */
export function assertBoundedJson(json: Uint8Array, most = MAX_VALUES): void {
  let [values, depth] = [1, 0];
  for (let i = 0; i < json.length; i++) {
    const code = json[i];
    if (code === QUOTE) i = endOfString(json, i);
    else if (code === COMMA) values++;
    else if (code === LIST || code === OBJECT) {
      values++;
      depth++;
    } else if (code === LIST_END || code === OBJECT_END) depth--;
    if (values > most) throw tooMuch(`It holds more than ${most} values.`, '');
    if (depth > MAX_DEPTH) throw tooMuch(`It is nested more than ${MAX_DEPTH} deep.`, '');
  }
}

function endOfString(json: Uint8Array, start: number): number {
  for (let i = start + 1; i < json.length; i++) {
    const code = json[i];
    if (code === ESCAPE) i++;
    else if (code === QUOTE) return i;
  }
  return json.length;
}
