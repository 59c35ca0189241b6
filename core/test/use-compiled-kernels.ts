import { compiledCompositeKernels, compiledFactory } from '../../server/kernels/load-kernels.ts';
import { useCompositeKernels } from '../base/kernels/composite-kernels.ts';
import { useKernels } from '../base/kernels/index.ts';

/** Before every test file of core: what is tested is what ships. No second thread helps, since all cores have tests of their own to do. */
useKernels(compiledFactory({ helped: false }));
useCompositeKernels(compiledCompositeKernels());
