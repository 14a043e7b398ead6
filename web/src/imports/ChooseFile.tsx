import { say } from '@fiche/core/languages';
import TextField from '@mui/material/TextField';
import { clsx } from 'clsx';
import { useState } from 'react';
import { CardSection, FileButton, textCss } from '../parts/index.ts';
import chooseFileCss from './chooseFile.module.css';

/** A file chosen, dropped or pasted. */
export function ChooseFile({ onChoose }: { onChoose(file: Blob, name: string): void }) {
  const [over, setOver] = useState(false);
  const [pasted, setPasted] = useState('');
  return (
    <CardSection label="">
      <div
        className={clsx(chooseFileCss.dropPlace, over && chooseFileCss.over)}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          const [file] = event.dataTransfer.files;
          if (file) onChoose(file, file.name);
        }}
      >
        <FileButton
          label={say('Choose a file')}
          accept=".csv,.tsv,.txt,.xlsx,.json,.jsonl,.ndjson"
          onChoose={(file) => onChoose(file, file.name)}
        />
        <span className={textCss.faded}>
          {say('or drop one here: CSV, XLSX, JSON, JSON Lines or XML, up to 200 MB')}
        </span>
        <TextField
          className={chooseFileCss.pastePlace}
          label={say('or paste rows from a spreadsheet, with the column names in the first row')}
          multiline
          maxRows={3}
          value={pasted}
          onChange={(event) => setPasted(event.target.value)}
          onPaste={(event) => {
            const text = event.clipboardData.getData('text');
            if (!text.includes('\n')) return;
            event.preventDefault();
            setPasted('');
            onChoose(new Blob([text]), 'pasted rows.txt');
          }}
          onBlur={() => {
            if (pasted.includes('\n')) onChoose(new Blob([pasted]), 'pasted rows.txt');
          }}
        />
      </div>
    </CardSection>
  );
}
