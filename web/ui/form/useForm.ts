/** Forms that are checked by the schema the server checks them by. */
import { joiResolver } from '@hookform/resolvers/joi';
import type { ObjectSchema } from 'joi';
import { useForm as useHookForm, type DefaultValues, type FieldValues, type UseFormReturn } from 'react-hook-form';

/** @param first what the fields hold at the start; it has to hold all of them */
export const useForm = <Values extends FieldValues>(
  schema: ObjectSchema<Values>,
  first: DefaultValues<Values>,
): UseFormReturn<Values> =>
  useHookForm<Values>({
    // Its types know neither Joi's nor the form's values.
    resolver: joiResolver(schema, { abortEarly: false }) as never,
    defaultValues: first,
    mode: 'onChange',
  });
