import { Fault } from '../fault/fault';
import { isRecord } from '../fault/is-record';

/** Brings the JSON of an older version of a format one version forward. */
type FormatUpgrade = (older: Readonly<Record<string, unknown>>) => Readonly<Record<string, unknown>>;

/**
 * The JSON of a file at the newest version of its format: `steps[0]` leads from version 1 to 2, and so on.
 * @throws Fault `refused-input` for what is another format, or was made by a newer Old Echo
 */
export function upgradeFormat(
  json: unknown,
  format: string,
  steps: readonly FormatUpgrade[],
): Readonly<Record<string, unknown>> {
  const newest = steps.length + 1;
  if (!isRecord(json) || json['format'] !== format)
    throw new Fault('refused-input', `Not a file of the format ${format}.`, 'Nothing was imported.', 'format');
  let current = json;
  const version = current['version'];
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    throw new Fault('refused-input', 'The file does not say its version.', 'Nothing was imported.', 'version');
  if (version > newest)
    throw new Fault(
      'refused-input',
      `The file has version ${version} of its format; this Old Echo reads up to ${newest}.`,
      'Nothing was imported. Open it with the Old Echo that made it, or a newer one.',
      'version',
    );
  for (const step of steps.slice(version - 1)) current = step(current);
  return { ...current, version: newest };
}
