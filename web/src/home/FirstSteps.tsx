import Button from '@mui/material/Button';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { Card, pageCss, textCss } from '../parts/index.ts';
import { FillCabinet } from './FillCabinet.tsx';
import homeCss from './home.module.css';

/** What an empty cabinet opens with: the ways to put something into it. */
export function FirstSteps() {
  const { cabinet, may } = useOffice();
  if (!may('build'))
    return (
      <p className={pageCss.empty}>
        <strong>{cabinet.label} is empty.</strong> As soon as a builder publishes a form, it is listed here.
      </p>
    );
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{cabinet.label}</h1>
        <span className={textCss.faded}>This cabinet is empty. Start with one of these:</span>
      </div>
      <div className={homeCss.firstSteps}>
        <Card small title="Import a file">
          <p className={homeCss.line}>
            A spreadsheet, CSV or JSON becomes a table: its types, choices and links are proposed before anything is
            written.
          </p>
          <p className={homeCss.line}>
            <Button component={Link} to={`/${cabinet.id}/imports/new`}>
              Import
            </Button>
          </p>
        </Card>
        <Card small title="Make a table">
          <p className={homeCss.line}>
            Name it, add its fields, then make a form from it in one step. A form writes to a table.
          </p>
          <p className={homeCss.line}>
            <Button component={Link} to={`/${cabinet.id}/tables?new=table`}>
              New table
            </Button>
          </p>
        </Card>
        <Card small title="Make an option list">
          <p className={homeCss.line}>
            Choices that narrow one another, such as System, Part, Defect: paste them from a spreadsheet, use them in
            any table.
          </p>
          <p className={homeCss.line}>
            <Button component={Link} to={`/${cabinet.id}/tables?new=list`}>
              New option list
            </Button>
          </p>
        </Card>
        <Card small title="Use a cabinet file">
          <p className={homeCss.line}>
            A file that <em>Export cabinet</em> made elsewhere brings its tables, forms and records.
          </p>
          <p className={homeCss.line}>
            <FillCabinet />
          </p>
        </Card>
      </div>
    </div>
  );
}
