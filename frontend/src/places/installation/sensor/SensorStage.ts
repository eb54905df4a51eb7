export { SensorInputs as Inputs } from "./SensorInputs";
export { SensorResult as Result } from "./SensorResult";
