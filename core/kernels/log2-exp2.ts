/** Four numbers of 0 or more as powers of two, within 2.1e-6; −127 stands for none. */
export function powersOf(four: v128): v128 {
  const whole = f32x4.convert_i32x4_s(i32x4.sub(i32x4.shr_u(four, 23), i32x4.splat(127)));
  const part = f32x4.sub(v128.or(v128.and(four, i32x4.splat(0x7fffff)), i32x4.splat(0x3f800000)), f32x4.splat(1));
  // The least error of a polynomial of this degree between 1 and 2, by the exchange of Remez.
  let sum = f32x4.splat(-0.026457449681218586);
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(0.1234514877015939));
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(-0.27953813908156067));
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(0.4582708062334695));
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(-0.7182819189226877));
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(1.4425531450094382));
  return f32x4.add(whole, f32x4.mul(sum, part));
}

/** Adding this rounds to an integer, held in the low mantissa bits. */
const ROUNDING: f32 = 12582912;

/** Two to the power of each of four numbers from −120 to 120, within 1.1e-7 of it; exactly 1 for 0. */
export function twoToThe(four: v128): v128 {
  const rounded = f32x4.add(four, f32x4.splat(ROUNDING));
  const part = f32x4.sub(four, f32x4.sub(rounded, f32x4.splat(ROUNDING)));
  // Least squares of the relative error at Chebyshev's points between −0.5 and 0.5.
  let sum = f32x4.splat(0.0013218672417438222);
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(0.009671697938392305));
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(0.05550892952668298));
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(0.2402223800274137));
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(0.693146855941532));
  sum = f32x4.add(f32x4.mul(sum, part), f32x4.splat(1));
  return i32x4.add(sum, i32x4.shl(rounded, 23));
}
