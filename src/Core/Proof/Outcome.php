<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

/** What can come of a test; prediction and observation use the same words. */
enum Outcome: string
{
    /** Something answered at the port. */
    case Answers = 'answers';
    /** It is there and refuses the port. */
    case Refuses = 'refuses';
    /** Nothing came back. */
    case Silent = 'silent';
    /** A router on the path, or the sender's own neighbour table, reports that there is no such host (RFC 792, RFC 826). */
    case Unreachable = 'unreachable';
    /** It was there and broke the connection off without a word. */
    case BrokenOff = 'broken-off';
    /** It is there, and its certificate is not one to trust. */
    case BadCertificate = 'bad-certificate';
    case FoundByGroup = 'found-by-group';
    case FoundByRange = 'found-by-range';
    case NotFound = 'not-found';
    case Registered = 'registered';
    case Rejected = 'rejected';
    /** The intended device answered and sound went both ways. */
    case DeviceAnswers = 'device-answers';
    /** The intended device answered, sound did not go both ways. */
    case OneWaySound = 'one-way-sound';
    case Voicemail = 'voicemail';
    case OtherAnswers = 'other-answers';
    case NotAnswered = 'not-answered';
    /** The sender says that it has the pictures of the plan; it says that it has others. */
    case Pictures = 'pictures';
    case OtherPictures = 'other-pictures';
    /** The planned stream is heard there, from the planned sender; from another sender, or from several at once. */
    case Heard = 'heard';
    case OtherHeard = 'other-heard';
    /** It would take a stream that is pushed there, as planned; with another passphrase than planned, or none. */
    case Takes = 'takes';
    case TakesOtherwise = 'takes-otherwise';
    /** A person says so. */
    case Affirmed = 'affirmed';
    case Denied = 'denied';
    /** Nothing was sent: no adapter in the segment, no bind, no route. Says nothing of the far end. */
    case NotAsked = 'not-asked';

    /** Whether an observation is the same answer: for silence a router's refusal is as good. */
    public function isSameAs(?self $observed): bool
    {
        return $this === $observed || (self::Silent === $this && self::Unreachable === $observed);
    }

    /** Nothing came back that could have come from anybody. */
    public function isAbsence(): bool
    {
        return \in_array($this, [self::Silent, self::Unreachable, self::NotFound, self::NotAnswered], true);
    }

    public function label(): string
    {
        return match ($this) {
            self::Answers => 'answers',
            self::Refuses => 'refuses the port',
            self::Silent => 'no answer',
            self::Unreachable => 'cannot be reached',
            self::BrokenOff => 'breaks the connection off',
            self::BadCertificate => 'certificate not to be trusted',
            self::FoundByGroup => 'found by group question',
            self::FoundByRange => 'found by range, not by group question',
            self::NotFound => 'not found',
            self::Registered => 'account accepted',
            self::Rejected => 'account refused',
            self::DeviceAnswers => 'device answers, sound both ways',
            self::OneWaySound => 'device answers, sound not both ways',
            self::Voicemail => 'voicemail answers',
            self::OtherAnswers => 'another device answers',
            self::NotAnswered => 'no answer',
            self::Pictures => 'pictures as planned',
            self::OtherPictures => 'other pictures than planned',
            self::Heard => 'heard as planned',
            self::OtherHeard => 'heard otherwise than planned',
            self::Takes => 'takes the stream',
            self::TakesOtherwise => 'takes it otherwise than planned',
            self::Affirmed => 'yes',
            self::Denied => 'no',
            self::NotAsked => 'not asked from here',
        };
    }
}
