import { X509Certificate } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { hostname, networkInterfaces } from 'node:os';
import { join } from 'node:path';

/** How long this machine's own authority is good for, and what it signs, in days; phones take nothing longer than 398 (CA/Browser Forum). */
const AUTHORITY_DAYS = 3650;
const CERTIFICATE_DAYS = 397;
/** A certificate is made anew so long before it ends, in days. */
const SPARE_DAYS = 30;
const DAY_MS = 86_400_000;

const daysFromNow = (days) => new Date(Date.now() + days * DAY_MS);
const addresses = () =>
  Object.values(networkInterfaces()).flatMap((all) => all.map(({ address }) => address.split('%')[0]));
const writeOwn = (file, text) => writeFileSync(file, text, { mode: 0o600 });

/**
 * The certificate by which other machines reach this one: one's own by `OLD_ECHO_CERTIFICATE` and `OLD_ECHO_KEY`, else one that an authority
 * of this machine has signed, which is made once. It is made anew when the addresses of this machine change.
 * @returns the files of the certificate and its key, and of the authority where it is ours
 */
export async function certificateIn(folder) {
  const { OLD_ECHO_CERTIFICATE: own, OLD_ECHO_KEY: ownKey } = process.env;
  if (own && ownKey) return { certificate: own, key: ownKey };
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  // What a fresh clone has not installed yet when this file is read.
  const { generate } = await import('selfsigned');
  const file = (name) => join(folder, name);
  const [authority, authorityKey] = [file('authority.crt'), file('authority.key')];
  if (!existsSync(authority)) {
    const made = await generate([{ name: 'commonName', value: `Old Echo on ${hostname()}` }], {
      keyType: 'ec',
      algorithm: 'sha256',
      notAfterDate: daysFromNow(AUTHORITY_DAYS),
      extensions: [
        { name: 'basicConstraints', cA: true, pathLenConstraint: 0, critical: true },
        { name: 'keyUsage', keyCertSign: true, cRLSign: true, critical: true },
      ],
    });
    writeOwn(authorityKey, made.private);
    writeOwn(authority, made.cert);
  }
  const [certificate, key] = [file('certificate.crt'), file('certificate.key')];
  if (!isGood(certificate, authority)) {
    const names = [...new Set(['127.0.0.1', ...addresses()])];
    const made = await generate([{ name: 'commonName', value: hostname() }], {
      keyType: 'ec',
      algorithm: 'sha256',
      notAfterDate: daysFromNow(CERTIFICATE_DAYS),
      ca: { cert: readFileSync(authority, 'utf8'), key: readFileSync(authorityKey, 'utf8') },
      extensions: [
        { name: 'basicConstraints', cA: false, critical: true },
        { name: 'keyUsage', digitalSignature: true, critical: true },
        { name: 'extKeyUsage', serverAuth: true },
        {
          name: 'subjectAltName',
          altNames: [{ type: 2, value: 'localhost' }, ...names.map((ip) => ({ type: 7, ip }))],
        },
      ],
    });
    writeOwn(key, made.private);
    writeOwn(certificate, made.cert);
  }
  return { certificate, key, authority };
}

/** Whether a certificate is of this authority, names every address of this machine, and is good for a while yet. */
function isGood(file, authority) {
  if (!existsSync(file)) return false;
  const certificate = new X509Certificate(readFileSync(file));
  return (
    certificate.verify(new X509Certificate(readFileSync(authority)).publicKey) &&
    new Date(certificate.validTo) > daysFromNow(SPARE_DAYS) &&
    addresses().every((address) => certificate.checkIP(address) !== undefined)
  );
}

/** By what a person knows a certificate again. */
export const fingerprint = (file) => new X509Certificate(readFileSync(file)).fingerprint256;
