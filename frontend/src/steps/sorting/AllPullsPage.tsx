export { AllPulls as default } from "./PullPage";
