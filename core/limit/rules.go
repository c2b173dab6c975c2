package limit

type Rules []Rule
type Rule struct {
	ID string `yaml:"id"`
}

func (r Rules) Check() error { return nil }
