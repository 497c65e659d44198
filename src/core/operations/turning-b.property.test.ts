import { CASES, FIRST_SEED, turningProperty } from '../../../tests/fixtures/turningProperty';

turningProperty(FIRST_SEED + Math.ceil(CASES / 2), Math.floor(CASES / 2));
