<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** One request that a device understands: where it goes, how its fields are written, by what one sees that it was done. */
final readonly class AdminRequest
{
    /** @param string $sign stands in the answer where it worked; '' where the status says enough */
    public function __construct(public string $method, public string $path, public BodyShape $as, public string $sign = '')
    {
    }

    /** A path alone is the usual: what is asked for with GET comes as JSON, what is sent with POST goes as a form. */
    public static function read(mixed $data, string $method, BodyShape $as, string $of): self
    {
        if (\is_string($data)) {
            return new self($method, $data, $as);
        }
        $read = new Reading((array) $data, $of);

        return new self(
            $read->text('method', $method),
            $read->text('path', '/'),
            $read->word(BodyShape::class, 'as', $read->text('as', $as->value)),
            $read->text('sign'),
        );
    }
}
