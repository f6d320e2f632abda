// The page of one lettering: its form is live.
import {start} from "./live.js";
import {say} from "./lib/slides.js";

start({say});
