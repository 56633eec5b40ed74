// Texts that stay in the program's memory: here all memory is one, see program.h.
#pragma once
