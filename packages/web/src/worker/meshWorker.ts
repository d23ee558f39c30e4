import { expose } from 'comlink';
import { workshop } from './workshop.ts';

expose(workshop);
