import Link from '@mui/material/Link';
import { useQuery } from '@tanstack/react-query';
import Markdown from 'react-markdown';
import { Waiting } from '../parts/index.ts';
import helpCss from './help.module.css';

const PAGES = import.meta.glob<string>('../../../docs/guide/*.md', { query: '?raw', import: 'default' });
const PICTURES = import.meta.glob<string>('../../../docs/screenshots/*.png', {
  query: '?url',
  import: 'default',
  eager: true,
});

export type GuidePage = 'clerk' | 'builder' | 'auditor';

/** One page of docs/guide, with its pictures. */
export default function Guide({ page }: { page: GuidePage }) {
  const { data: text } = useQuery({
    queryKey: ['guide', page],
    queryFn: () => PAGES[`../../../docs/guide/${page}.md`]?.() ?? '',
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (text === undefined) return <Waiting />;
  return (
    <div className={helpCss.guide}>
      <Markdown
        components={{
          h1: 'h3',
          h2: 'h4',
          a: ({ href, children }) => <Link href={href}>{children}</Link>,
          img: ({ src, alt }) => <img src={pictureAt(src)} alt={alt} loading="lazy" />,
        }}
      >
        {text}
      </Markdown>
    </div>
  );
}

/** The address of a picture that a page names as `../screenshots/name.png`. */
const pictureAt = (src: unknown): string | undefined =>
  PICTURES[`../../../docs/screenshots/${String(src).split('/').pop()}`];
