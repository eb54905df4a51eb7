export { ReadoutInputs as Inputs } from "./ReadoutInputs";
export { ReadoutResult as Result } from "./ReadoutResult";
