import { say } from '@fiche/core/languages';
import sans from '@fontsource/source-sans-3/files/source-sans-3-latin-400-normal.woff2?url';
import { takeAway } from '../parts/index.ts';

/** What a picture needs of the page’s style to look the same by itself. */
const STYLED = ['fill', 'stroke', 'stroke-width', 'font-size', 'font-weight', 'font-variant-numeric'] as const;
/** The picture is kept in so many times its size, so that it is sharp in print. */
const SCALE = 2;
const MARGIN = 12;
const TITLE = 22;

/** A colour as `#rrggbb`, which every program reads; what is no colour stays as it is. */
function plainColour(context: CanvasRenderingContext2D, colour: string): string {
  if (colour === 'none' || !/^(rgb|color|#|oklab|hsl)/.test(colour)) return colour;
  context.clearRect(0, 0, 1, 1);
  context.fillStyle = colour;
  context.fillRect(0, 0, 1, 1);
  const [red = 0, green = 0, blue = 0, alpha = 255] = context.getImageData(0, 0, 1, 1).data;
  const hex = [red, green, blue].map((part) => part.toString(16).padStart(2, '0')).join('');
  return alpha === 255 ? `#${hex}` : `rgba(${red}, ${green}, ${blue}, ${(alpha / 255).toFixed(2)})`;
}

/** The typeface of the application as an address that holds it whole. */
async function embeddedFont(): Promise<string> {
  const bytes = await (await fetch(sans)).blob();
  return new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.readAsDataURL(bytes);
  });
}

/** A chart as an SVG file by itself: in the light scheme, with its title, its colours and its typeface. */
async function svgOf(picture: SVGSVGElement, title: string): Promise<{ text: string; width: number; height: number }> {
  const context = document.createElement('canvas').getContext('2d', { willReadFrequently: true });
  // Drawn beside the page for a moment, so that colours of the light scheme are computed.
  const stage = document.createElement('div');
  stage.style.cssText = 'position: absolute; left: -10000px; color-scheme: light;';
  const copy = picture.cloneNode(true) as SVGSVGElement;
  stage.append(copy);
  document.body.append(stage);
  try {
    for (const element of copy.querySelectorAll<SVGElement>('*')) {
      const style = getComputedStyle(element);
      for (const name of STYLED) {
        const value = style.getPropertyValue(name);
        if (value !== '') element.setAttribute(name, context ? plainColour(context, value) : value);
      }
      for (const name of ['class', 'tabindex', 'aria-hidden', 'href', 'role']) element.removeAttribute(name);
    }
    const ink = context ? plainColour(context, getComputedStyle(stage).color) : '#000';
    const [inner, deep] = [picture.width.baseVal.value, picture.height.baseVal.value];
    const [width, height] = [inner + 2 * MARGIN, deep + 2 * MARGIN + TITLE];
    const escaped = new XMLSerializer().serializeToString(document.createTextNode(title));
    const font = await embeddedFont();
    const text = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="'Source Sans 3', sans-serif" font-size="12"><style>@font-face { font-family: 'Source Sans 3'; src: url(${font}) format('woff2'); }</style><rect width="${width}" height="${height}" fill="#ffffff"/><text x="${MARGIN}" y="${MARGIN + 12}" font-size="14" font-weight="600" fill="${ink}">${escaped}</text><g transform="translate(${MARGIN} ${MARGIN + TITLE})">${[...copy.children].map((one) => new XMLSerializer().serializeToString(one)).join('')}</g></svg>`;
    return { text, width, height };
  } finally {
    stage.remove();
  }
}

/** Gives a chart to the browser as a file: SVG, or PNG in twice its size. */
export async function savePicture(picture: SVGSVGElement, title: string, format: 'svg' | 'png'): Promise<void> {
  const { text, width, height } = await svgOf(picture, title);
  const name = `${title.replaceAll(/[^\p{L}\p{N}]+/gu, ' ').trim()}.${format}`;
  const svg = new Blob([text], { type: 'image/svg+xml' });
  const file = format === 'svg' ? svg : await pngOf(svg, width * SCALE, height * SCALE);
  takeAway(name, file.type, file);
}

async function pngOf(svg: Blob, width: number, height: number): Promise<Blob> {
  const url = URL.createObjectURL(svg);
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [width, height];
    canvas.getContext('2d')?.drawImage(image, 0, 0, width, height);
    const png = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
    if (!png) throw new Error(say('This browser cannot draw the picture. Save it as SVG.'));
    return png;
  } finally {
    URL.revokeObjectURL(url);
  }
}
