import { expect, it } from 'vitest';
import type { Setting } from '../api/client';
import { parseCellInput } from './parseCellInput';

const of = (type: Setting['type'], more: Partial<Setting> = {}): Setting =>
  ({ key: 'k', title: 'K', app: 'chat', type, ...more }) as Setting;
const LEVEL = of('choice', { options: ['nobody', 'own-unit', 'own-organisation', 'everyone'] });

it('takes the beginning of an option where only one begins so', () => {
  expect(parseCellInput(of('switch'), 'of')).toEqual({ text: 'of', value: false });
  expect(parseCellInput(of('switch'), 'ON')).toEqual({ text: 'ON', value: true });
  expect(parseCellInput(LEVEL, 'n').value).toBe('nobody');
  expect(parseCellInput(LEVEL, 'own o').value).toBe('own-organisation');
});

it('takes no value while several could be meant, or none, and says so', () => {
  expect(parseCellInput(of('switch'), 'o')).toEqual({ text: 'o', doubt: '“o” can become On or Off: type on.' });
  expect(parseCellInput(LEVEL, 'own').doubt).toBe('“own” can become own unit or own organisation: type on.');
  expect(parseCellInput(of('switch'), 'x')).toEqual({ text: 'x', doubt: '“x” is none of On, Off.' });
});

it('takes an option that is named in full though another begins with it', () => {
  expect(parseCellInput(of('choice', { options: ['all', 'all-guests'] }), 'all').value).toBe('all');
});

it('reads numbers, lists and texts', () => {
  expect(parseCellInput(of('number'), '42').value).toBe(42);
  expect(parseCellInput(of('number'), '4x').value).toBe('4x');
  expect(parseCellInput(of('list'), 'a.example, b.example;').value).toEqual(['a.example', 'b.example']);
  expect(parseCellInput(of('text'), 'Welcome aboard').value).toBe('Welcome aboard');
  expect(parseCellInput(of('text'), ' ')).toEqual({ text: ' ' });
});
