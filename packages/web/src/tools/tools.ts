import { crop } from './crop.ts';
import { foot } from './foot.ts';
import { mirror } from './mirror.ts';
import { move } from './move.ts';
import { practice } from './practice.ts';
import { refine } from './refine.ts';
import { simplify } from './simplify.ts';
import { thicken } from './thicken.ts';
import type { Tool } from './Tool.ts';

/** What else can be done with a skin beside what its stop is about, in the order in which it is offered. */
export const tools = { crop, mirror, foot, move, refine, simplify, thicken, practice } as const;

export type ToolId = keyof typeof tools;
export const toolIds = Object.keys(tools) as ToolId[];

/** The tool of that name, with its types widened for cards that show all of them alike. */
export const toolOf = (id: ToolId): Tool => tools[id];
