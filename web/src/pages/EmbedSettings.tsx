import { say } from '@fiche/core/languages';
import { settingsCss } from '../parts/index.ts';
import { TextControl } from '../tables/index.ts';
import type { PageSettingsProps } from './pageSettingsProps.ts';
import { CopyField } from './ShareSettings.tsx';

/** The sites that may show the page, and the snippet that they put into their own. */
export function EmbedSettings({ page, definition, onSet }: PageSettingsProps) {
  const { sites = [] } = page;
  return (
    <div className={settingsCss.form}>
      <TextControl
        key={sites.join(' ')}
        label={say('Sites that may show it')}
        text={sites.join('\n')}
        none={say('none')}
        multiline
        hint={say('The beginning of each site’s address, such as https://gannet.example, separated by blanks.')}
        onSet={(text) => {
          const typed = text.split(/[\s,]+/).filter((one) => one !== '');
          const named = typed.map(originOf);
          onSet({ sites: named.length === 0 ? undefined : [...new Set(named)] });
        }}
      />
      {sites.length > 0 && (
        <CopyField
          label={say('Snippet for the site')}
          multiline
          text={snippetOf(`${window.location.origin}/p/${page.slug}`, definition.label)}
        />
      )}
    </div>
  );
}

/** The origin of an address that somebody typed. Throws what is wrong with it, in words. */
function originOf(typed: string): string {
  const url = URL.canParse(typed) ? new URL(typed) : undefined;
  if (url && /^https?:$/.test(url.protocol) && url.hostname !== '') return url.origin;
  throw new Error(
    say('“{typed}” is no address of a site. Write it with https://, such as https://gannet.example.', { typed }),
  );
}

/** HTML that shows the page in a frame, which a script of a few lines makes as high as the page is. */
const snippetOf = (address: string, title: string): string =>
  `<iframe src="${address}" title="${title.replaceAll('&', '&amp;').replaceAll('"', '&quot;')}" style="width:100%;border:0" height="600"></iframe>
<script>addEventListener("message",function(e){for(var f of document.querySelectorAll("iframe"))if(e.source===f.contentWindow&&e.origin===${JSON.stringify(new URL(address).origin)}&&e.data&&e.data.ficheHeight>0)f.height=e.data.ficheHeight})</script>`;
