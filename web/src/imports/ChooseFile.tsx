import { useState } from 'react';
import { CardSection } from '../parts/index.ts';

/** A file chosen, dropped or pasted. */
export function ChooseFile({ onChoose }: { onChoose(file: Blob, name: string): void }) {
  const [over, setOver] = useState(false);
  const [pasted, setPasted] = useState('');
  return (
    <CardSection label="">
      <div
        className={`drop-place${over ? ' over' : ''}`}
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
        <label className="button">
          Choose a file
          <input
            type="file"
            className="visually-hidden"
            accept=".csv,.tsv,.txt,.xlsx,.json,.jsonl,.ndjson"
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              if (file) onChoose(file, file.name);
            }}
          />
        </label>
        <span className="faded">or drop one here: CSV, XLSX, JSON or JSON Lines, up to 200 MB</span>
        <label className="paste-place">
          <span className="faded">or paste rows from a spreadsheet, with their names on top</span>
          <textarea
            rows={1}
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
        </label>
      </div>
    </CardSection>
  );
}
