#include "program.h"
