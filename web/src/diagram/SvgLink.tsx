// The diagram as it is drawn, as an SVG file that stands by itself.
import { Button } from 'antd';

export function SvgLink({ title }: { title: string }) {
  return (
    <Button size="small" id="svg" onClick={() => save(title)}>
      SVG
    </Button>
  );
}

function save(title: string) {
  const drawn = document.querySelector<SVGSVGElement>('.diagram svg.drawn');
  if (!drawn) return;
  const copy = drawn.cloneNode(true) as SVGSVGElement;
  const box = drawn.viewBox.baseVal;
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('width', String(box.width));
  copy.setAttribute('height', String(box.height));
  // The look of its texts comes from the page's style sheet: the rules go along.
  const rules = [...document.styleSheets].flatMap((sheet) => [...sheet.cssRules]);
  const own = rules.filter((r) => r instanceof CSSStyleRule && /^\.(svg-|point)/.test(r.selectorText));
  const root = getComputedStyle(document.documentElement);
  const text = own
    .map((r) => r.cssText.replace(/var\((--[\w-]+)\)/g, (_, name: string) => root.getPropertyValue(name)))
    .join('\n');
  const style = document.createElementNS('http://www.w3.org/2000/svg', 'style');
  style.textContent = text;
  copy.prepend(style);
  const file = new Blob([new XMLSerializer().serializeToString(copy)], { type: 'image/svg+xml' });
  const link = document.createElement('a');
  link.href = URL.createObjectURL(file);
  link.download = `${title.toLowerCase().replace(/[^\w]+/g, '-')}.svg`;
  link.click();
  URL.revokeObjectURL(link.href);
}
