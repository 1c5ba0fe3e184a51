import type { ComponentType } from 'react';
import { Assistant } from './Assistant';
import { Calendar } from './Calendar';
import { Chat } from './Chat';
import { Directory } from './Directory';
import { Files } from './Files';
import { Help } from './Help';
import { Mail } from './Mail';
import { Meetings } from './Meetings';
import { Calls, Devices, Pages, Reports } from './Other';

/** The pages that speak of an app in their own words; any other app is shown by what its settings say. */
export const APPS: Record<string, ComponentType> = {
  chat: Chat,
  meetings: Meetings,
  calls: Calls,
  mail: Mail,
  calendar: Calendar,
  files: Files,
  pages: Pages,
  directory: Directory,
  assistant: Assistant,
  reports: Reports,
  help: Help,
  devices: Devices,
};
