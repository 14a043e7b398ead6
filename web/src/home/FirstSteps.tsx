import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { Card, pageCss, sayWith, textCss } from '../parts/index.ts';
import { FillCabinet } from './FillCabinet.tsx';
import homeCss from './home.module.css';

/** What an empty cabinet opens with: the ways to put something into it. */
export function FirstSteps() {
  const { cabinet, may } = useOffice();
  if (!may('build'))
    return (
      <p className={pageCss.empty}>
        {sayWith('{name} As soon as a builder publishes a form, it is listed here.', {
          name: <strong>{say('{label} is empty.', { label: cabinet.label })}</strong>,
        })}
      </p>
    );
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{cabinet.label}</h1>
        <span className={textCss.faded}>{say('This cabinet is empty. Start with one of these:')}</span>
      </div>
      <div className={homeCss.firstSteps}>
        <Card small title={say('Import a file')}>
          <p className={homeCss.line}>
            {say(
              'A spreadsheet, CSV or JSON becomes a table: its types, choices and links are proposed before anything is written.',
            )}
          </p>
          <p className={homeCss.line}>
            <Button component={Link} to={`/${cabinet.id}/imports/new`}>
              {say('Import')}
            </Button>
          </p>
        </Card>
        <Card small title={say('Make a table')}>
          <p className={homeCss.line}>
            {say('Name it, add its fields, then make a form from it in one step. A form writes to a table.')}
          </p>
          <p className={homeCss.line}>
            <Button component={Link} to={`/${cabinet.id}/tables?new=table`}>
              {say('New table')}
            </Button>
          </p>
        </Card>
        <Card small title={say('Make an option list')}>
          <p className={homeCss.line}>
            {say(
              'Choices that narrow one another, such as System, Part, Defect: paste them from a spreadsheet, use them in any table.',
            )}
          </p>
          <p className={homeCss.line}>
            <Button component={Link} to={`/${cabinet.id}/tables?new=list`}>
              {say('New option list')}
            </Button>
          </p>
        </Card>
        <Card small title={say('Use a cabinet file')}>
          <p className={homeCss.line}>
            {sayWith('A file that {name} made elsewhere brings its tables, forms and records.', {
              name: <em>{say('Export cabinet')}</em>,
            })}
          </p>
          <p className={homeCss.line}>
            <FillCabinet />
          </p>
        </Card>
      </div>
    </div>
  );
}
