#!/usr/bin/env node
import { main } from '../dist/bundle/main.js';

// whoever reads may stop reading, as `head` does
process.stdout.on('error', (error) => process.exit(error.code === 'EPIPE' ? 0 : 1));

process.exitCode = await main(process.argv.slice(2));
