// Lets a thread of the test runner load TypeScript by itself: the sources then run as they would in the program.
import { register } from 'tsx/esm/api';

register();
