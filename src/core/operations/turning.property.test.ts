import { CASES, FIRST_SEED, turningProperty } from '../../../tests/fixtures/turningProperty';

turningProperty(FIRST_SEED, CASES);
