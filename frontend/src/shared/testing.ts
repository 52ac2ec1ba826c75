import "@testing-library/jest-dom/vitest";
import { cleanup } from "@testing-library/react";

afterEach(cleanup); // files share one worker, so the library's own clean-up is set up for the first of them only
