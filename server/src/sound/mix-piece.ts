import { PIECE_SECONDS } from '@old-echo/core/contracts/sound';
import { Fault } from '@old-echo/core/fault/fault';

import { type PackedSound, packFlac } from './pack-flac';
import { WavRecording } from './wav-recording';

/**
 * A piece of a mix, packed.
 * @param from the sample of the file that it begins with
 * @param grows whether the mix is still being written, but that far
 * @throws Fault `not-found` behind its end
 */
export async function packPiece(file: string, from: number, grows: boolean): Promise<PackedSound> {
  const mix = new WavRecording(file, { grows });
  try {
    const { rate } = mix.info;
    const sound = mix.read(from, PIECE_SECONDS * rate);
    if (!sound[0]?.length)
      throw new Fault('not-found', 'The mix is not as long as that.', 'Listen to it from its beginning.');
    return await packFlac(sound, rate);
  } finally {
    mix.close();
  }
}
