import { describe, expect, test } from 'vitest';
import { UnreadableXml, xmlLists } from './index.ts';

const said = (text: string): string => {
  try {
    xmlLists(text);
  } catch (error) {
    if (error instanceof UnreadableXml) return error.message;
    throw error;
  }
  return 'read';
};

describe('the lists of an XML document', () => {
  test('are records by the elements that stand beside one another, with attributes, texts and several values', () => {
    const [list, ...others] = xmlLists(`\ufeff<?xml version="1.0"?>
      <!-- from the harbour office -->
      <o:berths xmlns:o="https://sound.example/o" day="2026-08-17">
        <berth code="A-1"><longest unit="m">8.5</longest><tags><item>deep</item><item>power, 16 A</item></tags></berth>
        <berth code="A-2"><longest unit="m">12</longest><note>R&amp;D &#x41;&#66; <![CDATA[<b>]]></note><tags><item>deep</item></tags></berth>
      </o:berths>`);
    expect(others).toEqual([]);
    expect(list).toEqual({
      name: 'berth',
      records: [
        { code: 'A-1', longest: '8.5', 'longest unit': 'm', tags: 'deep, "power, 16 A"' },
        { code: 'A-2', longest: '12', 'longest unit': 'm', note: 'R&D AB <b>', tags: 'deep' },
      ],
    });
  });

  test('are found in one another: lines begin with the values of the record around them', () => {
    const lists = xmlLists(`<stays>
      <stay><number>S-1</number><owner><name>Ada Finch</name><town>Tern Cove</town></owner>
        <services><service><what>Water</what><quantity>2</quantity></service><service><what>Crane</what></service></services></stay>
      <stay><number>S-2</number><owner><name>Odd Reef</name></owner><services/></stay>
    </stays>`);
    expect(lists).toEqual([
      {
        name: 'stay',
        records: [
          { number: 'S-1', 'owner name': 'Ada Finch', 'owner town': 'Tern Cove' },
          { number: 'S-2', 'owner name': 'Odd Reef' },
        ],
      },
      {
        name: 'stay › service',
        records: [
          {
            'stay number': 'S-1',
            'stay owner name': 'Ada Finch',
            'stay owner town': 'Tern Cove',
            what: 'Water',
            quantity: '2',
          },
          { 'stay number': 'S-1', 'stay owner name': 'Ada Finch', 'stay owner town': 'Tern Cove', what: 'Crane' },
        ],
      },
    ]);
  });

  test('may be of one record, of plain texts, or several under one root', () => {
    expect(xmlLists('<berths><berth><number>A-1</number></berth></berths>')[0]?.records).toEqual([{ number: 'A-1' }]);
    expect(xmlLists('<names><name>A</name><name>B</name></names>')[0]?.records).toEqual([{ name: 'A' }, { name: 'B' }]);
    expect(xmlLists('<berth><number>A-1</number><longest>8</longest></berth>')).toEqual([
      { name: 'berth', records: [{ number: 'A-1', longest: '8' }] },
    ]);
    const names = xmlLists(
      '<office><a><berth><n>1</n></berth><berth><n>2</n></berth></a><b><owner><m>x</m></owner><owner><m>y</m></owner></b></office>',
    ).map((list) => [list.name, list.records.length]);
    expect(names).toEqual([
      ['berth', 2],
      ['owner', 2],
    ]);
  });
});

describe('XML that is not read says what to do', () => {
  test('entities that expand, or point outside', () => {
    const bomb = '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><x><y>&b;</y></x>';
    const outside = '<!DOCTYPE x SYSTEM "file:///etc/passwd"><x><y>1</y></x>';
    for (const text of [bomb, outside, `<!DOCTYPE x [<!ENTITY e SYSTEM "http://sound.example/e">]><x><y>&e;</y></x>`])
      expect(said(text)).toContain('defines entities of its own, or names a file outside');
    expect(said('<!DOCTYPE berths><berths><berth><n>1</n></berth></berths>')).toBe('read');
    // An entity that nobody defines stays as it is written.
    expect(xmlLists('<x><y><n>&unknown;</n></y></x>')[0]?.records).toEqual([{ n: '&unknown;' }]);
  });

  test('broken, empty, or too deep', () => {
    expect(said('<berths>\n<berth><n>1</berth></berths>')).toMatch(/breaks at line 2, character \d+/);
    expect(said('<berths></berths>')).toContain('no list of records');
    expect(said(`${'<a>'.repeat(60)}x${'</a>'.repeat(60)}`)).toContain('more than 30 deep');
  });
});
