/** Colours as hue, saturation and lightness, as the CSS Color Module Level 4 has them. */

/** Writes hue in turns [0,1), saturation and lightness in [0,1] of a colour in [0,1]. */
export function toHsl(red: number, green: number, blue: number, out: Float64Array): void {
  const most = red > green ? Math.max(red, blue) : Math.max(green, blue);
  const least = red < green ? Math.min(red, blue) : Math.min(green, blue);
  const wide = most - least;
  const lightness = (most + least) / 2;
  let hue = 0;
  if (wide > 0) {
    if (most === red) hue = (green - blue) / wide + (green < blue ? 6 : 0);
    else if (most === green) hue = (blue - red) / wide + 2;
    else hue = (red - green) / wide + 4;
  }
  out[0] = hue / 6;
  out[1] = wide === 0 || lightness === 0 || lightness === 1 ? 0 : (most - lightness) / Math.min(lightness, 1 - lightness);
  out[2] = lightness;
}

/** Writes red, green and blue of a hue in turns (any number), saturation and lightness in [0,1]. */
export function fromHsl(hue: number, saturation: number, lightness: number, out: Float64Array): void {
  const a = saturation * (lightness < 0.5 ? lightness : 1 - lightness);
  const turn = 12 * (hue - Math.floor(hue));
  for (let k = 0; k < 3; k++) {
    let at = (k === 0 ? 0 : k === 1 ? 8 : 4) + turn;
    if (at >= 12) at -= 12;
    const up = at - 3;
    const down = 9 - at;
    const least = Math.min(up, down);
    out[k] = lightness - a * (least < -1 ? -1 : Math.min(least, 1));
  }
}
