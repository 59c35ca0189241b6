// Loaded before everything in a test run. A run is made of some hundred processes that live for seconds: at V8's own measure
// its optimising compiler takes a tenth of all processor time for functions that are about to end. It begins later here, by
// how much YARLOP_OPTIMISE_AFTER says; loops that are hot for long are compiled all the same.
import { setFlagsFromString } from 'node:v8';

setFlagsFromString(`--interrupt-budget=${process.env.YARLOP_OPTIMISE_AFTER}`);
